"""Notes and reports: drafted from the figures, written by the clinician, fixed once signed."""
