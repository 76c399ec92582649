"""How the application and its library are: health, room, the log, the report."""

import io
import json
import shutil
import zipfile
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from keen_sweep.api.log import SLOW_SECONDS
from keen_sweep.store.library import Library
from keen_sweep.store.log import LOG_NAME, MAX_LOG_BYTES, OLDER_LOGS, close_log, happened, log_files, open_log
from keen_sweep.store.tables import Frame
from keen_sweep.studio.originals import Originals

HINT = "very secret bricks"


def lines(library: Library) -> list[dict[str, Any]]:
    return [json.loads(line) for file in log_files(library.folder) for line in file.read_text().splitlines()]


def test_health_says_what_it_runs_on_and_how_busy_it_is(client: TestClient, library: Library) -> None:
    told = client.get("/api/health")
    assert told.status_code == 200
    body = told.json()
    assert (body["ready"], body["detail"]) == (True, "")
    assert body["schema_revision"] == library.revision > "0008"
    assert body["queue"]["waiting"] == 0
    assert body["versions"]["sqlite"]
    assert body["free"] > 0


def test_a_library_that_is_away_is_not_ready_and_says_why(client: TestClient, library: Library) -> None:
    aside = library.folder.with_name("aside")
    library.folder.rename(aside)
    told = client.get("/api/health")
    aside.rename(library.folder)
    assert told.status_code == 503
    assert "not there" in told.json()["detail"]
    assert client.get("/api/health").status_code == 200


def test_room_is_told_by_shoot_and_views_are_given_back(
    client: TestClient, frame: dict[str, Any], here: str, library: Library
) -> None:
    client.get(here)
    told = client.get("/api/library").json()
    (shoot,) = told["shoots"]
    original = max(each.stat().st_size for each in library.files.folder.rglob("*") if each.is_file())
    assert shoot["originals"] == original
    assert shoot["frames"] == 1
    assert told["views"] == shoot["views"] > 0
    before = shoot["work"]
    points = [[20, 20], [60, 40]]
    client.post(f"{here}/sweeps", json={"shapes": [{"kind": "stroke", "points": points, "size": 9}]})
    assert client.get("/api/library").json()["shoots"][0]["work"] > before
    assert client.post("/api/library/drop-views").json() == {"bytes": told["views"]}
    assert client.get("/api/library").json()["views"] == 0
    # What was dropped is made again when it is needed.
    with library.session() as session:
        shot = session.get_one(Frame, frame["id"]).original
    assert Originals(library).pyramid(shot).level(0).shape == (150, 200, 3)
    assert client.get("/api/library").json()["views"] == told["views"]


def test_the_log_tells_what_was_asked_but_not_what_was_in_it(
    client: TestClient, frame: dict[str, Any], here: str, library: Library
) -> None:
    client.post("/api/shoots", json={"name": HINT})
    client.get(here)
    client.get("/api/frames/77777")
    told = lines(library)
    asked = [(each["method"], each["route"], each["status"]) for each in told if each["what"] == "request"]
    assert ("POST", "/api/shoots", 201) in asked
    assert ("GET", "/api/frames/{frame_id}", 404) in asked
    looked = [each for each in told if each["what"] == "request" and (each["method"], each["status"]) == ("GET", 200)]
    assert all(each["ms"] >= 1000 * SLOW_SECONDS for each in looked), "looking is not written down, unless it took long"
    assert HINT not in json.dumps(told)


def test_the_log_takes_turns(tmp_path: Path) -> None:
    handler = open_log(tmp_path)
    try:
        for k in range(OLDER_LOGS + 3):
            happened("long", text="x" * (MAX_LOG_BYTES - 200), k=k)
    finally:
        close_log(handler)
    files = log_files(tmp_path)
    assert len(files) == OLDER_LOGS + 1
    assert all(each.stat().st_size <= MAX_LOG_BYTES for each in files)
    assert json.loads(files[0].read_text())["k"] == OLDER_LOGS + 2
    assert files[0].name == LOG_NAME


def test_a_full_disk_does_not_stop_work_for_the_log(tmp_path: Path) -> None:
    handler = open_log(tmp_path)
    shutil.rmtree(tmp_path / "logs")
    try:
        happened("nobody hears it")
    finally:
        close_log(handler)
    assert log_files(tmp_path) == []


def test_a_report_holds_what_happened_and_nothing_of_the_photographer(
    client: TestClient, frame: dict[str, Any], here: str, library: Library
) -> None:
    client.post("/api/shoots", json={"name": HINT})
    answer = client.get("/api/report")
    assert answer.headers["content-type"] == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.content)) as report:
        held = {name: report.read(name).decode() for name in report.namelist()}
    assert json.loads(held["tables.json"])["frame"] == 1
    assert json.loads(held["about.json"])["schema_revision"] == library.revision
    assert '"request"' in held[f"logs/{LOG_NAME}"]
    everything = "".join(held.values())
    assert HINT not in everything
    assert str(library.folder) not in everything
    assert not any(name.endswith((".png", ".jpg", ".tif")) for name in held)


def test_picks_are_followed_saved_and_forgotten(client: TestClient) -> None:
    told = client.get("/api/taste").json()
    assert (told["followed"], told["picks"], told["weights"], told["minded"]) == (True, 0, None, None)
    assert client.patch("/api/taste", json={"followed": False}).json()["followed"] is False
    assert client.patch("/api/taste", json={"followed": "now and then"}).status_code == 422
    file = client.get("/api/taste/file")
    assert "keen-sweep-picks.json" in file.headers["content-disposition"]
    assert (file.json()["followed"], file.json()["picks"]) == (False, [])
    assert client.delete("/api/taste").json()["picks"] == 0
