"""What a hand mistypes: a text in, texts that might stand in its place out."""

from __future__ import annotations

from collections.abc import Iterator

KEYS_BESIDE = {
    "1": "2q",
    "2": "13w",
    "3": "24",
    "4": "35",
    "5": "46",
    "6": "57",
    "7": "68",
    "8": "79",
    "9": "80",
    "0": "9o",
    ".": ",l",
    ",": ".m",
}


def slips_of(text: str, neighbour: str = "", unit: str = "") -> Iterator[tuple[str, str]]:
    """Plausible slips in a typed number, each with what happened; `neighbour` is what stands in the cell beside."""
    for i, letter in enumerate(text):
        yield "doubled", text[: i + 1] + text[i:]
        yield "lost", text[:i] + text[i + 1 :]
        if i + 1 < len(text):
            yield "swapped", text[:i] + text[i + 1] + letter + text[i + 2 :]
        for other in KEYS_BESIDE.get(letter, ""):
            yield "key beside", text[:i] + other + text[i + 1 :]
    digits = text.replace(".", "")
    if "." in text:
        for i in range(len(digits) + 1):
            yield "point moved", f"{digits[:i]}.{digits[i:]}"
        yield "point lost", digits
        yield "whole", digits.lstrip("0") or "0"
        yield "comma", text.replace(".", ",")
        yield "two points", text.replace(".", "..")
    for sign in "-−+":
        yield "sign", sign + text
    for exponent in ("e3", "e-3", "e30", "e-30", "e300", "×10^3", " × 10⁻²", "×10⁻", "e", "x10^"):
        yield "exponent", text + exponent
    for after in (unit, " " + unit, "cm", " m", " s", " ms", "kg", "%", "°C", "?", "~", "!", " 2"):
        yield "unit after", text + after
    for own in ("±0.1", " ± 0", "±", "+-1e300", " ± 0.02 " + unit):
        yield "own u", text + own
    yield "neighbour", neighbour
    yield "joined", text + neighbour
    yield from (
        ("other", other) for other in ("", " ", "0", "0.000", "-0", "n/a", "-", "nan", "inf", "1e400", "9" * 40, "0." + "0" * 40 + "1")
    )
