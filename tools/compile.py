"""Compile the simulator and what it stands on to machine code, for this Python and machine; used where it fits.

    python tools/compile.py

Needs a C compiler; says so and goes on without where there is none.
"""

from __future__ import annotations

import json
import os
import shutil
import sys
import sysconfig
import tempfile
from pathlib import Path

from mypyc.build import mypycify
from setuptools import Distribution
from setuptools.command.build_ext import build_ext

SOURCES = Path(__file__).parents[1] / "src"
sys.path.insert(0, str(SOURCES))

from olvask.compiled import FOLDER, LISTED, SUFFIX, hashed, source_of

CIRCUIT = ("ampacity", "facts", "runs", "solve", "thresholds")
PHYSICS = ("alternator", "battery", "charging", "conductors", "dc_path", "heat", "rounding")
SIMULATE = (
    *("batteries", "beside", "charging", "heating", "machine", "moment", "plant"),
    *("profile", "programme", "record", "sources", "states", "steps", "trip"),
)
MODULES = [
    f"olvask.core.{room}.{name}"
    for room, names in (("physics", PHYSICS), ("circuit", CIRCUIT), ("simulate", SIMULATE))
    for name in names
]
GROUP = "olvask_core"
# Nobody waits a minute longer for a twentieth; and a machine that multiplies and adds in one step shall round as others do.
FLAGS = ["-O1", "-ffp-contract=off"]


def main() -> None:
    """Compile, and put them in place all at once."""
    compiler = (sysconfig.get_config_var("CC") or "cc").split()[0]
    if shutil.which(compiler) is None:
        print(f"no C compiler ({compiler}): the simulator will run interpreted, in four to eight times the time")
        return
    digests = {module: hashed(source_of(module)) for module in MODULES}
    os.chdir(SOURCES)
    with tempfile.TemporaryDirectory() as made:
        files = [str(source_of(module).relative_to(SOURCES)) for module in MODULES]
        extensions = mypycify(
            ["--config-file", "../pyproject.toml", "--cache-dir", "../.stamps/compile_cache", *files],
            opt_level="1",
            debug_level="0",
            group_name=GROUP,
            target_dir=made,
        )
        for extension in extensions:
            extension.extra_compile_args += FLAGS
        build = build_ext(Distribution({"name": "olvask-fast", "ext_modules": extensions}))
        build.build_lib, build.build_temp = f"{made}/lib", f"{made}/temp"
        build.finalize_options()
        build.run()
        ready = FOLDER.with_name("fast.new")
        shutil.rmtree(ready, ignore_errors=True)
        ready.mkdir()
        for file in (Path(made) / "lib").rglob(f"*{SUFFIX}"):
            shutil.copy2(file, ready / ".".join(file.relative_to(Path(made) / "lib").parts))
        (ready / f"{SUFFIX}.{LISTED}").write_text(json.dumps(digests, indent=1), encoding="utf-8")
    # Whoever looks meanwhile finds all of it or none.
    shutil.rmtree(FOLDER, ignore_errors=True)
    ready.rename(FOLDER)
    print(f"{len(MODULES)} modules compiled")


if __name__ == "__main__":
    main()
