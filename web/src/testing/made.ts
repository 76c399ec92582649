import type { Desk, Find, Frame, Shoot, Sister, Snag, Sweep, Take } from "../api/client";

/** Things of the desk as the server tells them; a test names what it is about. */
const BOX = { x: 10, y: 10, width: 40, height: 30 };

export const aFrame = (more: Partial<Frame> = {}): Frame =>
  ({
    id: 1,
    name: "roof-0001.tif",
    format: "tiff",
    width: 2000,
    height: 1500,
    depth: 16,
    revision: 7,
    provisional: 0,
    ...more,
  }) as Frame;

export const aTake = (id: number, more: Partial<Take> = {}): Take =>
  ({
    id,
    batch: 1,
    method: "weave",
    quality: "fine",
    seed: id,
    seconds: 2.5,
    made_at: "2026-05-01T10:00:00Z",
    made: {},
    parts: [{ method: "weave", why: "texture", box: BOX, area: 900 }],
    favourite: false,
    reviewed: true,
    ...more,
  }) as Take;

export const aSnag = (id: number, more: Partial<Snag> = {}): Snag =>
  ({
    id,
    take: 1,
    kind: "broken line",
    strength: 0.9,
    visible: 0.1,
    grading: null,
    why: "an edge ends in the air",
    mend: "spot",
    dismissed: false,
    box: { ...BOX, x: 300 * id },
    ...more,
  }) as Snag;

/** A marked sweep; with takes it is one to choose from. */
export const aSweep = (more: Partial<Sweep> = {}): Sweep =>
  ({
    id: "a",
    number: 1,
    name: "Left rod",
    method: "auto",
    state: more.takes?.length ? "choose" : "marked",
    shapes: 1,
    mask: "m1",
    box: BOX,
    fit: { margin: 4, feather: 2, holes: true, crumbs: 0 },
    knobs: { steps: 30, guidance: 7, strength: 1 },
    hint: "",
    avoid: "",
    ground: null,
    lead: [],
    model: null,
    takes: [],
    snags: [],
    best: null,
    pick: null,
    standing: more.pick ?? null,
    provisional: false,
    below_changed: false,
    shown: true,
    run: null,
    carried: null,
    ...more,
  }) as Sweep;

export const aDesk = (more: Partial<Desk> = {}): Desk =>
  ({
    frame: aFrame(),
    shoot: "Roofs",
    neighbours: [{ id: 1, name: "roof-0001.tif" }],
    revision: 7,
    pixels: "p",
    news: 1,
    finds: "",
    sweeps: [],
    touches: [],
    guard: null,
    picks: 0,
    undo: null,
    redo: null,
    ...more,
  }) as Desk;

export const aSister = (id: number, more: Partial<Sister> = {}): Sister =>
  ({
    id,
    name: `roof-000${id}.tif`,
    width: 2000,
    height: 1500,
    revision: 3,
    provisional: 0,
    state: "marked",
    carrying: null,
    error: null,
    elsewhere: false,
    landed: [],
    doubtful: [],
    behind: [],
    marked: [],
    filling: [],
    offered: [],
    ...more,
  }) as Sister;

export const aFind = (id: number, more: Partial<Find> = {}): Find =>
  ({
    id,
    kind: "specks",
    name: `Speck ${id}`,
    what: "speck",
    reason: "Dark and round",
    goes: false,
    always: false,
    subject: false,
    frames: 1,
    box: BOX,
    rings: [],
    also: {},
    with_also: [],
    ...more,
  }) as Find;

export const aShoot = (more: Partial<Shoot> = {}): Shoot =>
  ({ id: 5, name: "Roofs", frames: [aFrame()], budget: null, spent: 0, watched: null, ...more }) as Shoot;
