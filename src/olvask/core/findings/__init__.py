"""What is said of a design.

- `figure`: a computed value with its working.
- `finding`: what is wrong or worth knowing, and the remedies.
- `collector`: gathers both from the judges, in order.
- `remedy`: changes of a design by path; applying them.
- `said`: the base of immutable answers.
- `listed`: names in a sentence.
"""
