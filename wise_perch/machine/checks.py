"""The checks of `./perch check`: lint, types, generated types that are fresh, and which room may import
which.
"""

import ast
import json
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from wise_perch.machine.npm_packages import ensure_packages, npm
from wise_perch.machine.places import ROOT, WEB
from wise_perch.machine.progress import say, step

SCHEMA = WEB / "src" / "api" / "schema.d.ts"
SCHEMAS = {
    ROOT / "docs" / "syllabus.schema.json": "wise_perch.syllabus.writing",
    ROOT / "docs" / "archive.schema.json": "wise_perch.formats.archive",
}
"""Each JSON Schema in the docs, and the module whose json_schema() says it."""

MAY_IMPORT = {
    "core": {"core"},
    "syllabus": {"core", "syllabus"},
    "formats": {"core", "formats"},
    "store": {"core", "store"},
    # the sample trainee is drawn as the demo's people are
    "api": {"core", "syllabus", "formats", "store", "api", "demo"},
    "demo": {"core", "syllabus", "store", "api", "demo"},
    "machine": {"machine"},
}
"""One way through the house: the core knows nobody, the store only the core, the api both."""

CORE_ORDER = (
    "trade",
    "body",
    "line",
    "scoring",
    "trainee",
    "progress",
    "bench",
    "dose",
    "week",
    "floor",
    "class_night",
    "rehearsal",
)
"""The rooms of the core: each may use those before it, none those after it."""

CORE_PACKAGES = {"wise_perch", "numpy", "scipy", "ortools"}


def imports_of(path: Path) -> Iterator[str]:
    """Name every module a file imports, wherever in the file."""
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module


def wrong_imports(package: Path) -> list[str]:
    """List imports that go against the house's one way through, and packages the core may not know."""
    found = []
    for room, allowed in MAY_IMPORT.items():
        for path in sorted((package / room).rglob("*.py")):
            for module in imports_of(path):
                top, _, rest = module.partition(".")
                target = rest.split(".")[0]
                if top == package.name and target and target not in allowed:
                    found.append(f"{path.relative_to(package.parent)}: {room} may not import {module}")
                if room == "core" and _runs_back(path.relative_to(package / "core").parts[0], rest):
                    found.append(
                        f"{path.relative_to(package.parent)}: the core's rooms stand in order, and {module}"
                        " comes later"
                    )
                if room == "core" and top not in CORE_PACKAGES and top not in sys.stdlib_module_names:
                    found.append(f"{path.relative_to(package.parent)}: the core may not import {module}")
    return found


def _runs_back(room: str, target: str) -> bool:
    """Whether a core room reaches for one that comes after it; `target` is a module below the package."""
    parts = target.split(".")
    if parts[0] != "core" or len(parts) < 2 or parts[1] == room:
        return False
    return (
        room not in CORE_ORDER
        or parts[1] not in CORE_ORDER
        or CORE_ORDER.index(parts[1]) > CORE_ORDER.index(room)
    )


def generate_types(target: Path) -> None:
    """Write the TypeScript types of the api's OpenAPI document."""
    code = (
        "import json; from wise_perch.api.app import build_app; from wise_perch.api.settings import"
        " Settings; "
    )
    code += "print(json.dumps(build_app(Settings(database='postgresql://')).openapi()))"
    text = subprocess.run(
        [sys.executable, "-c", code], cwd=ROOT, check=True, capture_output=True, text=True
    ).stdout
    with tempfile.TemporaryDirectory() as folder:
        document = Path(folder) / "openapi.json"
        document.write_text(json.dumps(json.loads(text), indent=1), "utf-8")
        npm(
            "exec",
            "--no",
            "--",
            "openapi-typescript",
            str(document),
            "--output",
            str(target),
            "--alphabetize",
        )


def generate_schema(target: Path, module: str) -> None:
    """Write the JSON Schema that a module says of its files."""
    code = (
        f"import json; from {module} import json_schema; print(json.dumps(json_schema(), indent=1,"
        " ensure_ascii=False))"
    )
    target.write_text(
        subprocess.run(
            [sys.executable, "-c", code], cwd=ROOT, check=True, capture_output=True, text=True
        ).stdout,
        "utf-8",
    )


def stale_schema() -> list[str]:
    """Name the JSON Schemas in the docs that differ from what the models would give now."""
    stale = []
    for kept, module in SCHEMAS.items():
        with tempfile.TemporaryDirectory() as folder:
            fresh = Path(folder) / "schema.json"
            generate_schema(fresh, module)
            if not kept.exists() or kept.read_text("utf-8") != fresh.read_text("utf-8"):
                stale.append(f"docs/{kept.name} is stale: run ./perch types")
    return stale


def stale_types() -> list[str]:
    """Say whether the TypeScript types in the tree differ from what the api would generate now."""
    with tempfile.TemporaryDirectory() as folder:
        fresh = Path(folder) / "schema.d.ts"
        generate_types(fresh)
        same = SCHEMA.exists() and SCHEMA.read_text("utf-8") == fresh.read_text("utf-8")
    return [] if same else ["web/src/api/schema.d.ts is stale: run ./perch types"]


def run_all() -> bool:
    """Run every check, say what is wrong, and give whether all is well."""
    ensure_packages()
    commands = {
        "lint": ["ruff", "check", "--no-cache", "wise_perch", "tests", "bench"],
        "format": ["ruff", "format", "--no-cache", "--check", "--quiet", "wise_perch", "tests", "bench"],
        "types": ["mypy"],
        "browser side: lint": ["npm", "--prefix", "web", "run", "--silent", "lint"],
        "browser side: types": ["npm", "--prefix", "web", "run", "--silent", "types"],
    }
    well = True
    for name, words in commands.items():
        with step(name):
            well &= subprocess.run(words, cwd=ROOT, check=False, stdout=sys.stderr).returncode == 0
    with step("import direction, generated types"):
        for problem in [*wrong_imports(ROOT / "wise_perch"), *stale_types(), *stale_schema()]:
            say(f"    {problem}")
            well = False
    return well
