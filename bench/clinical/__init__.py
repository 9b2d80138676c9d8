"""Whether the rules hold for people as they are: thousands of courses, made up under stated
assumptions, against the bars of MEASURES §5.10."""
