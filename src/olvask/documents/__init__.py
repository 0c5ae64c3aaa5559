"""What leaves the application on paper or as a file.

- `job_file`: a job as JSON, out and in, and its published schema.
- `diagram`: the wiring of a design, as SVG and on paper.
- `sheet`: the hand-over sheet as PDF.
"""
