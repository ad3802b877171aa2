"""What every door says of a file or a figure it cannot take. Every door loads it, so it loads nothing."""


class Junk(Exception):
    """The file cannot be scored; `lines` say why, each with its line number."""

    def __init__(self, lines: list[str]) -> None:
        """Keep the sentences."""
        super().__init__("\n".join(lines))
        self.lines = lines
