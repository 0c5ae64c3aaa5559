"""The trade's judgement, a folder a stage."""
