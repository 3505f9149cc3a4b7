"""Says the longest module and the longest function, and fails where one is too long, or where more
than one public function or class in ten says nothing of itself.

    python tools/measure_code.py             the longest of each
    python tools/measure_code.py --all       every one that is too long
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

MOST_MODULE, MOST_FUNCTION = 500, 60
ROOT = Path(__file__).resolve().parent.parent / "src"


def lengths() -> tuple[list[tuple[int, str]], list[tuple[int, str]], int, list[str]]:
    """Modules and functions by their lines, the longest first; how many functions and classes are
    public, and those of them that have no docstring."""
    modules, functions = [], []
    public = 0
    bare: list[str] = []
    for path in sorted(ROOT.rglob("*.py")):
        text = path.read_text("utf-8")
        modules.append((text.count("\n"), str(path.relative_to(ROOT))))
        tree = ast.parse(text)
        for node in ast.walk(tree):
            if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
                where = f"{path.relative_to(ROOT)}:{node.lineno} {node.name}"
                functions.append(((node.end_lineno or 0) - node.lineno + 1, where))
        for named in _public(tree):
            public += 1
            if ast.get_docstring(named) is None:
                bare.append(f"{path.relative_to(ROOT)}:{named.lineno} {named.name}")
    return sorted(modules, reverse=True), sorted(functions, reverse=True), public, bare


def _public(tree: ast.Module) -> Iterator[ast.FunctionDef | ast.ClassDef]:
    """Functions and classes that others may use, with their methods. Qt's own methods, which are
    only filled in, are told apart by their capitals."""
    for node in tree.body:
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)) and not node.name.startswith("_"):
            yield node
            for part in node.body if isinstance(node, ast.ClassDef) else ():
                if isinstance(part, ast.FunctionDef) and part.name == part.name.lower():
                    if not part.name.startswith("_") and not _is_property(part):
                        yield part


def _is_property(node: ast.FunctionDef) -> bool:
    return any(isinstance(d, ast.Name) and d.id == "property" for d in node.decorator_list)


def main() -> int:
    modules, functions, public, bare = lengths()
    print(f"Longest module: {modules[0][0]} lines, {modules[0][1]} (at most {MOST_MODULE})")
    print(f"Longest function: {functions[0][0]} lines, {functions[0][1]} (at most {MOST_FUNCTION})")
    print(
        f"Public functions and classes with a docstring: {public - len(bare)} of {public} (nine in ten)"
    )
    long = [m for m in modules if m[0] > MOST_MODULE] + [
        f for f in functions if f[0] > MOST_FUNCTION
    ]
    if "--all" in sys.argv:
        for lines, name in long:
            print(f"  {lines:5}  {name}")
        for name in bare:
            print(f"  no docstring: {name}")
    return 1 if long or len(bare) * 10 > public else 0


if __name__ == "__main__":
    sys.exit(main())
