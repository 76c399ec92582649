"""Debian's Chromium without a head."""

import shutil

from playwright.sync_api import Browser, BrowserType

QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# Most tests mark to the pixel; a newcomer finds Cling on. A page that has not been opened yet has no storage.
CLING_OFF = """location.protocol === 'http:' &&
  (localStorage.getItem('desk.cling') ?? localStorage.setItem('desk.cling', 'false'))"""
# A mark that rests asks for advice, which takes a second of both processors; few tests read it.
ADVICE_OFF = """{
  const send = window.fetch;
  const nothing = JSON.stringify({ advice: [], proposals: [], strays: [] });
  window.fetch = async (input, init) => {
    const asked = new Request(input, init);
    return /\\/advice$/.test(new URL(asked.url).pathname)
      ? new Response(nothing, { headers: { 'Content-Type': 'application/json' } })
      : send(asked);
  };
}"""
# A desk that is opened asks the scouts to look, which takes seconds of a processor; few tests need them. Done in the
# page, since a route of the browser's would turn its cache off.
SCOUTS_OFF = """{
  const send = window.fetch;
  window.fetch = async (input, init) => {
    const asked = new Request(input, init);
    if (asked.method === 'POST' && /\\/api\\/frames\\/\\d+\\/scouts$/.test(asked.url)) {
      const { kinds } = await asked.clone().json().catch(() => ({}));
      if (!kinds?.length) throw new TypeError('scouts are off in this test');
    }
    return send(asked);
  };
}"""


def chromium(kind: BrowserType, *more: str) -> Browser:
    """The browser without windows, which draws no frame that nobody sees; where it is not there, the whole one."""
    program = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    assert program, "Debian's chromium is needed: make chromium"
    return kind.launch(executable_path=program, args=[*QUIET, *more])
