"""A device's log against the design: what happened in it, what it gives for the circuit, and the simulation beside it."""

from olvask.core.analyses.device_log.course import Course, course_of
from olvask.core.analyses.device_log.happened import HAPPENINGS, Happened, Happening
from olvask.core.analyses.device_log.overlay import LogWindow, window
from olvask.core.analyses.device_log.report import LogReport, log_report
from olvask.core.analyses.device_log.series import Log

__all__ = [
    "HAPPENINGS",
    "Course",
    "Happened",
    "Happening",
    "Log",
    "LogReport",
    "LogWindow",
    "course_of",
    "log_report",
    "window",
]
