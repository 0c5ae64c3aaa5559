"""What is said of a design: figures, findings and remedies, and the collector that judges write to."""
