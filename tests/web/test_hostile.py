"""Pages from elsewhere, in real Chromium, try everything they may: they change nothing and read nothing."""

import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import httpx
import pytest
from playwright.sync_api import Browser, Page

from tests.support.application import Application

# Each way a page has, as a promise of what it got; "nothing" if it got nothing.
TRIES = """async (at) => {
  const nothing = () => 'nothing';
  const got = (answer) => answer.text().then((text) => text || 'nothing', nothing);
  const shown = (tag, src) => new Promise((told) => {
    const one = document.createElement(tag);
    one.onload = () => told(tag === 'iframe' ? 'a frame' : 'a picture');
    one.onerror = () => told('nothing');
    one.src = src;
    document.body.append(one);
  });
  const body = JSON.stringify({ name: 'Theirs' });
  const post = (more) => fetch(at + '/api/shoots', { method: 'POST', body, ...more }).then(got, nothing);
  const stream = new Promise((told) => {
    const source = new EventSource(at + '/api/events');
    source.onmessage = () => told('news');
    source.onerror = () => { source.close(); told('nothing'); };
  });
  const form = (enctype) => new Promise((told) => {
    const frame = document.createElement('iframe');
    frame.name = 'f' + Math.random();
    document.body.append(frame);
    const form = document.createElement('form');
    Object.assign(form, { method: 'post', action: at + '/api/shoots', enctype, target: frame.name });
    const field = document.createElement('input');
    field.name = '{"name": "Theirs", "x": "';
    field.value = '"}';
    form.append(field);
    document.body.append(form);
    frame.onload = () => {
      try { told(frame.contentDocument.body.innerText || 'an empty page'); } catch { told('nothing'); }
    };
    form.submit();
  });
  // What it does is seen on the server alone: a page is told nothing of it.
  navigator.sendBeacon(at + '/api/shoots', body);
  return {
    read: await fetch(at + '/api/shoots').then(got, nothing),
    blind: await fetch(at + '/api/shoots', { mode: 'no-cors' }).then(got, nothing),
    post: await post({}),
    'post as JSON': await post({ headers: { 'Content-Type': 'application/json' } }),
    'blind post': await post({ mode: 'no-cors' }),
    'blind post of bytes': await post({ mode: 'no-cors', body: new Blob([body]) }),
    picture: await shown('img', at + '/api/frames/1/crop?x=0&y=0&width=40&height=40&across=40'),
    stream: await stream,
    'plain form': await form('text/plain'),
    'form of parts': await form('multipart/form-data'),
  };
}"""


# A frame that is nobody's (its origin is "null") posts blindly as soon as the page is there.
PAGE = """<!doctype html><body>
<script>addEventListener('message', () => document.title = 'tried')</script>
<iframe sandbox="allow-scripts" srcdoc="<script>
  fetch('OURS/api/shoots', { method: 'POST', mode: 'no-cors', body: JSON.stringify({ name: 'Theirs' }) })
    .finally(() => parent.postMessage('tried', '*'))
</script>"></iframe>"""


class _Theirs(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        ours = self.path.rpartition("?")[2]
        text = PAGE.replace("OURS", ours)
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(text.encode())

    def log_message(self, *_: object) -> None: ...


@pytest.fixture(scope="module")
def theirs() -> Iterator[int]:
    """The port of somebody else's server on this machine."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), _Theirs)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield server.server_port
    server.shutdown()


@pytest.mark.parametrize("name", ["localhost", "127.0.0.1"])
def test_a_page_from_elsewhere_changes_nothing_and_reads_nothing(
    browser: Browser, application: Application, desk: Page, theirs: int, name: str
) -> None:
    before = httpx.get(f"{application.address}/api/shoots").json()
    assert before, "there is something to be read"
    hostile = browser.new_context().new_page()
    # Another site by name, and another port of the same one.
    hostile.goto(f"http://{name}:{theirs}/?{application.address}")
    hostile.wait_for_function("document.title === 'tried'")
    got = hostile.evaluate(TRIES, application.address)
    assert got == dict.fromkeys(got, "nothing")
    # By another name for this machine nobody is answered.
    framed = hostile.evaluate(
        """(at) => new Promise((told) => {
          const one = document.createElement('iframe');
          one.onload = () => {
            try { told(one.contentDocument ? one.contentDocument.body.innerText : 'closed'); } catch { told('closed'); }
          };
          one.src = at;
          document.body.append(one);
        })""",
        application.address,
    )
    assert framed == "closed"
    assert not any("Keen Sweep" in (frame.evaluate("document.title") or "") for frame in hostile.frames[1:])
    hostile.context.close()
    assert httpx.get(f"{application.address}/api/shoots").json() == before


def test_a_page_of_our_own_gets_what_others_are_refused(desk: Page, application: Application) -> None:
    """The tries are such as would tell: from here they get something."""
    got = desk.evaluate(TRIES, application.address)
    with httpx.Client(base_url=application.address) as client:
        made = [each["id"] for each in client.get("/api/shoots").json() if each["name"] == "Theirs"]
        for shoot in made:
            assert client.delete(f"/api/shoots/{shoot}").is_success
    assert made
    assert "Theirs" in got["post as JSON"]
    assert (got["picture"], got["stream"]) == ("a picture", "news")
    assert got["read"] != "nothing"


def test_a_foreign_name_for_this_machine_is_not_answered(application: Application) -> None:
    for name in ("elsewhere.example", "keen.localhost.elsewhere.example", "0.0.0.0"):
        for address in ("/", "/api/shoots", "/assets/none.js"):
            answer = httpx.get(f"{application.address}{address}", headers={"Host": f"{name}:{application.port}"})
            assert answer.status_code == 403
