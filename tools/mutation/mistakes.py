"""The small mistakes: one operator, number, condition or choice changed in a module's source.

- `Mistake`: where and what.
- `places`: all of a module.
- `told`: what each of them is, in words that outlive a move within the file.
- `spoilt`: the module's source with one made.
"""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}
REVERSED: dict[type[ast.cmpop], type[ast.cmpop]] = {ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE}
RECKONED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
CHOSEN = {"min": "max", "max": "min", "any": "all", "all": "any"}
WORDS = {"text", "title", "working", "label", "formula", "source", "changes", "detail"}  # said, not judged
GUARDS = {"strict"}  # of lists made as long as one another it never speaks


@dataclass(frozen=True, order=True)
class Mistake:
    """One change of one node.

    Attributes:
        line: line of the node.
        at: how many nodes the walk has passed when it meets it.
        kind: what is done to it.
    """

    line: int
    at: int
    kind: str

    @property
    def key(self) -> str:
        """As one word, for a command line."""
        return f"{self.line}:{self.at}:{self.kind}"

    @staticmethod
    def of(key: str) -> Mistake:
        """Back from one word."""
        line, at, kind = key.split(":")
        return Mistake(int(line), int(at), kind)


def _kinds(node: ast.AST) -> Iterator[str]:
    """What can be done to a node."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        if type(node.ops[0]) in COMPARED:
            yield "edge" if type(node.ops[0]) in REVERSED else "not"
        if type(node.ops[0]) in REVERSED:
            yield "reversed"
    elif isinstance(node, ast.BinOp) and type(node.op) in RECKONED and not _of_words(node):
        yield "reckoned"
    elif isinstance(node, ast.BoolOp):
        yield "joined"
    elif isinstance(node, (ast.If, ast.IfExp)) and not isinstance(node.test, ast.Compare):
        yield "condition"
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
        yield "number"
    elif isinstance(node, ast.Constant) and isinstance(node.value, bool):
        yield "flag"
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in CHOSEN:
        yield "chosen"


def _of_words(node: ast.BinOp) -> bool:
    return any(
        isinstance(side, ast.JoinedStr) or isinstance(getattr(side, "value", None), str)
        for side in (node.left, node.right)
    )


def _walk(node: ast.AST) -> Iterator[ast.AST]:
    """Nodes that judge or reckon: none in words, annotations, docstrings, or the declarations of fields."""
    for name, value in ast.iter_fields(node):
        for child in value if isinstance(value, list) else [value]:
            if not isinstance(child, ast.AST) or name in ("annotation", "returns", "decorator_list", "type_params"):
                continue
            if isinstance(child, (ast.JoinedStr, ast.Slice)):
                continue
            if isinstance(child, ast.keyword) and child.arg in WORDS | GUARDS:
                continue
            if isinstance(child, ast.If) and isinstance(child.test, ast.Name) and child.test.id == "TYPE_CHECKING":
                continue
            yield child
            yield from _walk(child)


def places(source: str) -> list[Mistake]:
    """Every mistake that can be made in a source."""
    return [
        Mistake(node.lineno, at, kind)
        for at, node in enumerate(_walk(ast.parse(source)))
        if isinstance(node, (ast.expr, ast.stmt))
        for kind in _kinds(node)
    ]


def told(source: str) -> dict[Mistake, str]:
    """Each mistake as its source's line, what of it is changed and how; the second of the same is numbered.

    Args:
        source: the module's text.
    """
    lines, nodes = source.splitlines(), list(_walk(ast.parse(source)))
    found: dict[Mistake, str] = {}
    met: Counter[str] = Counter()
    for mistake in places(source):
        words = f"{lines[mistake.line - 1].strip()} | {ast.unparse(nodes[mistake.at])} | {mistake.kind}"
        met[words] += 1
        found[mistake] = words if met[words] == 1 else f"{words} {met[words]}"
    return found


def _spoil(node: ast.AST, kind: str) -> None:
    if isinstance(node, ast.Compare):
        node.ops = [(REVERSED if kind == "reversed" else COMPARED)[type(node.ops[0])]()]
    elif isinstance(node, ast.BinOp):
        node.op = RECKONED[type(node.op)]()
    elif isinstance(node, ast.BoolOp):
        node.op = ast.And() if isinstance(node.op, ast.Or) else ast.Or()
    elif isinstance(node, (ast.If, ast.IfExp)):
        node.test = ast.UnaryOp(ast.Not(), node.test)
    elif isinstance(node, ast.Call):
        assert isinstance(node.func, ast.Name)
        node.func.id = CHOSEN[node.func.id]
    elif isinstance(node, ast.Constant):
        if kind == "flag":
            node.value = not node.value
        elif isinstance(node.value, (int, float)):
            # A quarter on a figure, one on a count; a thousandth more nobody could notice.
            large = node.value and (isinstance(node.value, float) or abs(node.value) > 9)
            node.value = node.value * 1.25 if large else node.value + 1


def spoilt(source: str, mistake: Mistake) -> str:
    """The source with a mistake made.

    Args:
        source: the module's text.
        mistake: one of its `places`.
    """
    tree = ast.parse(source)
    for at, node in enumerate(_walk(tree)):
        if at == mistake.at:
            _spoil(node, mistake.kind)
            break
    return ast.unparse(ast.fix_missing_locations(tree))
