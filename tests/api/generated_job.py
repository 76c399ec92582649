"""A job done by a client that a general-purpose generator made of openapi.json: gather, mark, fill, pick, deliver.

Run in an environment with the generated package (`keen_client`): python generated_job.py SERVER TOKEN PICTURE OUT.
"""

import sys
from io import BytesIO
from pathlib import Path

from keen_client import AuthenticatedClient
from keen_client.api.choosing import change_sweep
from keen_client.api.deliver import get_delivery
from keen_client.api.filling import fill, show_run
from keen_client.api.frames import get_desk
from keen_client.api.marking import new_sweep
from keen_client.api.shoots import add_frame, make_shoot
from keen_client.models import Fill, Kind, Problem, Quality, ShootIn, Stroke, SweepChange, SweepIn
from keen_client.types import File


def main(server: str, token: str, picture: str, out: str) -> None:
    client = AuthenticatedClient(base_url=server, token=token, raise_on_unexpected_status=True, timeout=120)
    shoot = make_shoot.sync(client=client, body=ShootIn(name="Generated"))
    file = File(payload=BytesIO(Path(picture).read_bytes()))
    frame = add_frame.sync(shoot.id, client=client, body=file, name="roof.png")
    stroke = Stroke(points=[[60.0, 50.0], [80.0, 50.0]], size=14.0)
    marked = new_sweep.sync(frame.id, client=client, body=SweepIn(shapes=[stroke]))
    asked = fill.sync(frame.id, marked.sweep_id, client=client, body=Fill(takes=2, quality=Quality.FAST))
    run = asked.runs[0]
    while run.state in ("waiting", "running", "stopping"):
        run = show_run.sync(run.id, client=client, wait=30.0)
    assert run.state == "done", run
    (sweep,) = get_desk.sync(frame.id, client=client).sweeps
    change_sweep.sync(frame.id, sweep.id, client=client, body=SweepChange(pick=sweep.takes[0].id))
    answer = get_delivery.sync_detailed(frame.id, client=client, kind=Kind.PNG)
    Path(out).write_bytes(answer.content)
    # What goes wrong comes as a problem, not as an exception of the parser.
    gone = get_desk.sync(12_345, client=client)
    assert isinstance(gone, Problem)
    assert gone.type_ == "/problems/not-found"


if __name__ == "__main__":
    main(*sys.argv[1:])
