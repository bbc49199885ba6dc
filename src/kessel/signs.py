"""Signs that the screen writes and the patch file does not."""


def with_signs(word: str) -> str:
    """A note name of the patch file, such as ``Eb``, as the screen writes it: ``E♭``."""
    return word.replace("b", "♭").replace("#", "♯")
