"""A handstand's line, from the key points of a picture: angles with their uncertainty, and what they say."""
