"""Fault finding: each fault put into the same vehicle, weighed by how well it explains what was read, seen and told.

A fault has sizes; each is a vehicle of its own whose unknowns are narrowed by the readings, and whose likelihood is what they
were worth on the way. Healthy is a cause like any other. Where no single fault explains, pairs are tried.
"""

from olvask.core.analyses.diagnosis.fault import SYMPTOMS, Symptom
from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.analyses.diagnosis.report import HANDLING_MIN, Cause, Diagnosis, diagnose, diagnosed, offered

__all__ = ["HANDLING_MIN", "SYMPTOMS", "Cause", "Diagnosis", "Symptom", "diagnose", "diagnosed", "faults_of", "offered"]
