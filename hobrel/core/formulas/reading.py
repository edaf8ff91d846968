"""Read the text of a formula into its tree.

Juxtaposition multiplies (``4 pi^2 L``), ``^`` and superscripts raise, Greek letters go by name or letter, a symbol of the
lab book comes before a constant of nature. Multiplication, written or not, and division bind equally, from left to right.
"""

from __future__ import annotations

import difflib
import re
import unicodedata
from collections.abc import Collection, Mapping
from functools import lru_cache

import lark

from hobrel.core.errors import CoreError
from hobrel.core.formulas.letters import LOWERED, RAISE_AGAIN, in_plain_letters, spell_symbol
from hobrel.core.formulas.tabulated import Tabulated
from hobrel.core.formulas.tree import (
    FUNCTIONS,
    LARGEST_EXPONENT,
    Binary,
    Call,
    Lookup,
    Negate,
    Node,
    Number,
    Power,
    Rate,
    Symbol,
    children_of,
)
from hobrel.core.units.calculus import parse_unit
from hobrel.core.units.constants import constant_symbols

LONGEST_FORMULA = 400
DEEPEST_FORMULA = 60

_GRAMMAR = r"""
    ?start: sum
    ?sum: product | sum PLUS product -> add | sum MINUS product -> subtract
    ?product: signed | product TIMES signed -> multiply | product OVER signed -> divide | product raised -> beside
    ?signed: raised | MINUS signed -> negate | PLUS signed -> plus
    ?raised: atom | atom CARET exponent -> power | atom SUP -> superscript
    ?exponent: atom | MINUS exponent -> negate | atom CARET exponent -> power
    ?atom: NUMBER -> number | FRACTION -> fraction | NAME -> name | OPEN sum CLOSE -> group
        | FUNCTION OPEN sum CLOSE -> call | FUNCTION bare -> call | TABLE OPEN sum CLOSE -> lookup
        | RATE OPEN sum COMMA sum CLOSE -> rate | RATE OPEN sum CLOSE -> rate_of_one
        | FUNCTION CARET NUMBER atom -> power_of_call | FUNCTION SUP atom -> superscript_of_call
        | FUNCTION CARET MINUS NUMBER atom -> minus_power_of_call
    ?bare: simple | simple CARET exponent -> power | simple SUP -> superscript
    ?simple: NUMBER -> number | NAME -> name | FUNCTION OPEN sum CLOSE -> call | FUNCTION bare -> call
    NUMBER: /(\d+([.]\d*)?|[.]\d+)([eE][+-]?\d+(?![A-Za-z_]))?/
    FUNCTION.2: /(sqrt|ln|log10|log(?=\s*\()|exp|a(?:rc)?(?:sin|cos|tan)|sin|cos|tan|abs)(?![A-Za-z0-9_])|√|(Delta|Δ|mid)(?=\s*\()/
    RATE.2: /(smooth_rate|rate)(?=\s*\()/
    TABLE.3: /(__TABLES__)(?=\s*\()/
    NAME: /[A-Za-z\u0370-\u03ff]+[0-9]*([__LOWERED__]+|(_[A-Za-z0-9]+|_\{[A-Za-z0-9]+\})*)/
    FRACTION: /[½⅓⅔¼¾]/
    SUP: /[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+/
    PLUS: "+"
    MINUS: /[-−–]/
    TIMES: /[*×·⋅]/
    OVER: /[\/÷⁄]/
    CARET: /\^|\*\*/
    OPEN: "("
    CLOSE: ")"
    COMMA: ","
    %ignore /[ \t\u00a0\u2009\u202f]+/
"""

_GREEK = dict(
    zip(
        "αβγδεζηθικλμνξοπρστυφχψωΓΔΘΛΞΠΣΦΨΩ",
        (
            "alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi omicron pi rho sigma tau upsilon phi chi psi "
            "omega Gamma Delta Theta Lambda Xi Pi Sigma Phi Psi Omega"
        ).split(),
        strict=True,
    )
) | {"ϕ": "phi", "ϑ": "theta", "ς": "sigma", "ϵ": "epsilon"}
GREEK_LETTERS = {name: letter for letter, name in _GREEK.items() if letter not in "ϕϑςϵ"}
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_KINDS = {
    "NUMBER": "a number", "NAME": "a quantity", "OPEN": "“(”", "CLOSE": "“)”", "FUNCTION": "a function", "TABLE": "a table",
    "PLUS": "+", "MINUS": "−", "TIMES": "×", "OVER": "/", "CARET": "^", "SUP": "a power", "COMMA": "a comma",
}  # fmt: skip


_NO_TABLE = "(?!)x"
"""What no text matches; the x, because nothing may be empty."""


@lru_cache(maxsize=64)
def _parser(tables: tuple[str, ...] = ()) -> lark.Lark:
    spelled = sorted({spelling for symbol in tables for spelling in (symbol, _with_letters(symbol))}, key=len, reverse=True)
    grammar = _GRAMMAR.replace("__LOWERED__", LOWERED).replace("__TABLES__", "|".join(re.escape(s) for s in spelled) or _NO_TABLE)
    return lark.Lark(grammar, parser="lalr", propagate_positions=True, maybe_placeholders=False)


def _with_letters(symbol: str) -> str:
    base, line, index = symbol.partition("_")
    return GREEK_LETTERS.get(base, base) + line + index


@lru_cache(maxsize=4096)
def canonical_name(symbol: str) -> str:
    """The spelling of a symbol that formulas use: as `spell_symbol` has it, Greek letters by name (``θ₀`` is ``theta_0``)."""
    return "".join(_GREEK.get(letter, letter) for letter in spell_symbol(symbol))


@lru_cache(maxsize=4096)
def _read_cached(text: str, known: frozenset[str], log_is_ln: bool, tables: tuple[Tabulated, ...]) -> Node:
    if not text.strip():
        raise CoreError("bad_formula", "There is no formula yet. Write one with the quantities’ symbols, as in T^2.", at=0)
    if len(text) > LONGEST_FORMULA:
        raise CoreError("bad_formula", "The formula is longer than {longest} characters.", longest=LONGEST_FORMULA, at=LONGEST_FORMULA)
    try:
        plain = _plainly(text)
        tree = _parser(tuple(sorted(t.symbol for t in tables))).parse(plain)
    except lark.exceptions.UnexpectedCharacters as trouble:
        at = trouble.pos_in_stream or 0
        words = "“{text}” has no meaning in a formula here.{hint}"
        raise CoreError("bad_formula", words, text=text[at], hint=_INSTEAD.get(text[at], ""), at=at) from None
    except lark.exceptions.UnexpectedToken as trouble:
        raise _explain_token(trouble, text) from None
    if two := _TWO_WAYS.search(plain):
        words = "“{text}” is read in two ways. Write one number, without a blank and with one decimal sign, or * between two."
        raise CoreError("bad_formula", words, text=text[two.start() : two.end()], at=two.start())
    node = _Builder(known, log_is_ln, {t.symbol: t for t in tables}).build(tree)
    _check_limits(node)
    return node


def read_formula(text: str, known: Collection[str] = (), log_is_ln: bool = False, tables: tuple[Tabulated, ...] = ()) -> Node:
    """Read a formula.

    Parameters
    ----------
    text : str
        As written: ``16 pi^2 m / (b d^3 k)``.
    known : collection of str
        Symbols of the lab book. They come before constants of nature, and letters written together are split into them
        (``mv`` is m·v where there is no quantity called mv).
    log_is_ln : bool
        Understand ``log( )`` as the natural logarithm, as scripts mean it. People write ln or log10: on paper, log is read
        both ways, and so it is refused with a hint.
    tables : tuple of Tabulated
        Tables of reference: the symbol of one before a bracket looks up what stands in it (``rho_w(T)``).

    Raises
    ------
    CoreError
        ``bad_formula``, with the place in the text as field ``at`` and what was expected in the message.
    """
    return _read_cached(text, frozenset(canonical_name(k) for k in known), log_is_ln, tables)


_INSTEAD = {
    "|": " Write abs( ) for | |.",
    "=": " Write only what stands to the right of it.",
    "°": " Angles without a unit are in radians: 30° is 30 pi/180.",
    "%": " Write 5 % as 0.05.",
}
"""What to write in the place of signs that other tables and paper have."""
_DECIMAL_COMMA = re.compile(r"(?<=\d),(?=\d)")


def _plainly(text: str) -> str:
    """The same text, sign for sign, with letters for the signs that look like them, and a point for a decimal comma."""
    text = in_plain_letters(text)
    # between the two of a rate it parts numbers
    return text if "rate" in text else _DECIMAL_COMMA.sub(".", text)


_TWO_WAYS = re.compile(
    r"(?<![\w.^])(?:\d{1,3}(?:\s\d{3})+(?:[.]\d+)?(?![\d.])|\d+(?:[.]\d+){2,}|\d+\s+\d+\s*/\s*\d+(?![\w.])|[\d.]+\s*[½⅓⅔¼¾])"
)
"""One number to people, and a product to the grammar: 1 000 were 0, 1.000.000 too, 1 1/2 and 1½ a half."""


def _explain_token(trouble: lark.exceptions.UnexpectedToken, text: str) -> CoreError:
    wanted = [_KINDS[k] for k in _KINDS if k in trouble.accepts or k in trouble.expected]
    hint = ", ".join(wanted[:-1]) + (" or " if len(wanted) > 1 else "") + wanted[-1] if wanted else "the end"
    if trouble.token.type == "$END":
        return CoreError("bad_formula", "The formula stops too early: {hint} should follow.", hint=hint, at=len(text))
    at = int(trouble.token.start_pos or 0)
    return CoreError("bad_formula", "“{token}” cannot stand here; {hint} should.", token=trouble.token, hint=hint, at=at)


def _check_limits(node: Node) -> None:
    waiting = [(node, 1)]
    while waiting:
        current, depth = waiting.pop()
        if depth > DEEPEST_FORMULA:
            raise CoreError("bad_formula", "The formula is nested too deeply. Split it into two quantities.", at=current.at)
        if isinstance(current, Power) and isinstance(current.exponent, Number) and current.exponent.value > LARGEST_EXPONENT:
            raise CoreError("bad_formula", "An exponent is at most {largest}.", largest=LARGEST_EXPONENT, at=current.exponent.at)
        waiting.extend((child, depth + 1) for child in children_of(current))


def split_symbols(name: str, known: Collection[str]) -> list[str] | None:
    """Letters written together as known symbols, longest first: ``mv`` is m and v. None where they cannot be split."""
    # from the end, each rest is split once: what begins at a place does not depend on how that place was reached
    rests: list[list[str] | None] = [None] * len(name) + [[]]
    for start in range(len(name) - 1, -1, -1):
        for end in range(len(name), start, -1):
            rest = rests[end]
            if rest is not None and (name[start:end] in known or name[start:end] == "pi"):
                rests[start] = [name[start:end], *rest]
                break
    return rests[0]


class _Builder:
    """Turn lark's tree into ours, deciding what each name means."""

    def __init__(self, known: frozenset[str], log_is_ln: bool, tables: Mapping[str, Tabulated]) -> None:
        self.known = known
        self.log_is_ln = log_is_ln
        self.tables = tables

    def build(self, tree: lark.Tree[lark.Token] | lark.Token) -> Node:
        assert isinstance(tree, lark.Tree)  # the grammar wraps every token in a rule
        parts, at = tree.children, int(tree.meta.start_pos)
        sub = [self.build(p) for p in parts if isinstance(p, lark.Tree)]
        match str(tree.data):
            case "add":
                return Binary("+", sub[0], sub[1], at)
            case "subtract":
                return Binary("-", sub[0], sub[1], at)
            case "multiply" | "beside":
                return Binary("*", sub[0], sub[1], at)
            case "divide":
                return Binary("/", sub[0], sub[1], at)
            case "negate":
                return Negate(sub[0], at)
            case "plus" | "group":
                return sub[0]
            case "power":
                return self._raise(parts[0], sub[0], sub[1], at)
            case "superscript":
                return self._raise(parts[0], sub[0], _superscript(str(parts[1]), at), at)
            case "number":
                return Number(str(parts[0]), at)
            case "fraction":
                above, _, below = unicodedata.normalize("NFKD", str(parts[0])).partition("⁄")
                return Binary("/", Number(above, at), Number(below, at), at)
            case "name":
                return self._name(str(parts[0]), at)
            case "call":
                return Call(self._function(str(parts[0]), at), sub[0], at)
            case "lookup":
                return Lookup(self.tables[canonical_name(str(parts[0]))], sub[0], at)
            case "rate":
                return Rate(str(parts[0]), sub[0], sub[1], at)
            case "rate_of_one":
                return self._rate_of_one(str(parts[0]), sub[0], at)
            case "power_of_call":
                return self._raise_function(str(parts[0]), sub[0], Number(str(parts[2]), at), at)
            case "minus_power_of_call":
                return self._raise_function(str(parts[0]), sub[0], Negate(Number(str(parts[3]), at), at), at)
            case _:
                return self._raise_function(str(parts[0]), sub[0], _superscript(str(parts[1]), at), at)

    def _raise_function(self, name: str, of: Node, exponent: Node, at: int) -> Node:
        if name in ("sin", "cos", "tan") and isinstance(exponent, Negate) and exponent.of == Number("1", at):
            words = "{name} to the power −1 is read in two ways. Write a{name}( ) for the angle, or 1/{name}( )."
            raise CoreError("bad_formula", words, name=name, at=at)
        return Power(Call(self._function(name, at), of, at), exponent, at)

    def _function(self, text: str, at: int) -> str:
        if text == "log" and not self.log_is_ln:
            raise CoreError("bad_formula", "log is read in two ways. Write ln for the natural logarithm, or log10.", at=at)
        return {"√": "sqrt", "log": "ln", "Δ": "Delta", "arcsin": "asin", "arccos": "acos", "arctan": "atan"}.get(text, text)

    def _rate_of_one(self, name: str, inner: Node, at: int) -> Node:
        """What a quantity of the same name before a bracket means: a product.

        Raises
        ------
        CoreError
            ``bad_formula`` where there is none.
        """
        if name in self.known:
            return Binary("*", Symbol(name, at), inner, at)
        words = "{name}( ) needs two things, what changes and with what: {name}(v, t)."
        raise CoreError("bad_formula", words, name=name, at=at)

    def _raise(self, written: object, base: Node, exponent: Node, at: int) -> Node:
        """Raise to a power; of letters written together only the last is raised (``mv^2`` is m·v²)."""
        if isinstance(written, lark.Tree) and written.data == "name" and isinstance(base, Binary):
            return Binary("*", base.left, Power(base.right, exponent, at), at)
        if base == Symbol("e", at) and "e" not in self.known and not _is_plain(exponent):
            # a charge has no such powers: the exponential is meant
            return Call("exp", exponent, at)
        return Power(base, exponent, at)

    def _name(self, written: str, at: int) -> Node:
        name = canonical_name(self._without_subscript(written))
        meaning = self._meaning(name, at)
        if meaning is not None:
            return meaning
        pieces = split_symbols(name, self.known)
        if pieces is None:
            raise self._unknown(written, name, at)
        node: Node | None = None
        for piece in pieces:
            one = self._meaning(piece, at)
            assert one is not None
            node = one if node is None else Binary("*", node, one, at)
        assert node is not None
        return node

    def _without_subscript(self, written: str) -> str:
        """T₁ as T_1 or T1, whichever is there."""
        base = written.rstrip(LOWERED)
        number = written[len(base) :].translate(RAISE_AGAIN)
        return base + number if not number or canonical_name(base + number) in self.known else f"{base}_{number}"

    def _meaning(self, name: str, at: int) -> Node | None:
        if name in self.known or name in constant_symbols() or name == "pi":
            return Symbol(name, at)
        if (joined := name.replace("Delta_", "Delta", 1)) in self.known:
            return Symbol(joined, at)
        if name.startswith("Delta") and (rest := name.removeprefix("Delta").lstrip("_")) in self.known:
            return Call("Delta", Symbol(rest, at), at)
        return None

    def _unknown(self, written: str, name: str, at: int) -> CoreError:
        if name in self.tables:
            words = "{written} is a table: say at what it is looked up, as in {written}(T)."
            return CoreError("bad_formula", words, written=written, at=at)
        if name.lower() in FUNCTIONS or name in ("log", "LN", "SQRT"):
            hint = "log10 and ln are the two logarithms." if name.lower() == "log" else f"Functions are written small: {name.lower()}."
            return CoreError("bad_formula", "“{written}” is not a function here. {hint}", written=written, hint=hint, at=at)
        if name in _MEANS:
            words = "{written} is not needed here: the symbol of what was read several times is the mean already."
            return CoreError("bad_formula", words, written=written, at=at)
        other_case = [k for k in self.known if k.lower() == name.lower()]
        close = other_case or difflib.get_close_matches(name, sorted(self.known), n=1, cutoff=0.6)
        hint = f" Did you mean {close[0]}?" if close else _NO_UNITS if _is_unit(name) else ""
        is_product = "x" in name.lower() and all(part in ("", *self.known) for part in re.split("[xX]", name))
        if is_product and not other_case and (len(name) > 1 or not close):
            hint = _TIMES
        return CoreError("bad_formula", "There is no quantity called {written} here.{hint}", written=written, hint=hint, at=at)


_MEANS = ("mean", "average", "avg", "AVERAGE", "MEAN")
_TIMES = " For times write * or ×."
_NO_UNITS = " A formula has no units in it: make a constant with its unit."


def _is_unit(name: str) -> bool:
    """Whether a name is a unit and can hardly be anything else: of one letter more quantities are called so."""
    try:
        return len(name) > 1 and not parse_unit(name).is_number
    except CoreError:
        return False


def _is_plain(exponent: Node) -> bool:
    """Whether an exponent is a number as it stands."""
    return isinstance(exponent.of if isinstance(exponent, Negate) else exponent, Number)


def _superscript(text: str, at: int) -> Node:
    digits = text.translate(_SUPERSCRIPTS)
    if not re.fullmatch(r"-?\d+", digits):
        raise CoreError("bad_formula", "“{text}” is not a power.", text=text, at=at)
    return Negate(Number(digits[1:], at), at) if digits.startswith("-") else Number(digits, at)
