"""The trade's judgement, a folder a stage, each with its judges in order.

Run and survey stand under match, match under wake, wake under settings and build. `registry` holds all of them.
"""
