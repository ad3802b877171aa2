"""What a syllabus is: lines, drills, gates, tests, session rules and mechanics as data, with their checks."""
