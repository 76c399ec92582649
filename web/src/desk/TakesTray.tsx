import { Box, Flex, Grid, Image, Text } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Desk, Sweep, Take } from "../api/client";
import { cropUrl, framed } from "../api/views";
import { Act, Choice, Key, Lead, Minor } from "../theme/controls";
import { type Actions, isBusy } from "./actions";
import type { PictureViewer } from "./canvas/viewer";
import { FillTrouble } from "./FillTrouble";
import { ledger } from "./ledger";
import { chosen, pictured, standing } from "./look";
import { SecondLook } from "./SecondLook";
import { said } from "./said";
import { type Compare, useDeskState } from "./state";

const TALL = 78;
const ROOM = "126px";
const SHAPE = 1.6;

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** The takes of the chosen sweep, the picture as shot first, all at one zoom and position. */
export function TakesTray({ desk, actions, viewer }: Props) {
  const { selected, viewed, before, set } = useDeskState();
  const sweep = chosen(desk, selected);
  // What is looked at stays, even if the second look comes to like another take better.
  const offered = sweep && !isBusy(sweep) && sweep.pick === null ? sweep.best : null;
  useEffect(() => {
    if (offered !== null && useDeskState.getState().viewed === null) set({ viewed: offered });
  }, [offered, set]);
  if (!sweep) return <Quiet text={hint(desk)} />;
  if (!sweep.takes.length && sweep.state === "marked") {
    return <Quiet text={`${sweep.name} is marked. Fill makes three takes; you choose one.`} />;
  }
  const stands = standing(sweep, viewed);
  const view = (take: number) => set({ viewed: take });
  return (
    <Flex
      as="section"
      aria-label="Takes"
      h={ROOM}
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      px="14px"
      py="6px"
      gap="10px"
    >
      <Flex gap="10px" overflowX="auto" flex="1" minW="0">
        <Card
          desk={desk}
          sweep={sweep}
          take={0}
          label="As shot"
          pressed={stands === 0}
          picked={false}
          view={() => view(0)}
        />
        {sweep.takes.map((take, i) => (
          <Card
            key={take.id}
            desk={desk}
            sweep={sweep}
            take={take.id}
            label={`Take ${i + 1}`}
            title={facts(sweep, take)}
            favourite={take.favourite}
            favour={() => actions.favour(take.id, !take.favourite)}
            newBatch={i > 0 && take.batch !== sweep.takes[i - 1]?.batch}
            note={
              (take.id === sweep.best && sweep.takes.length > 1 ? "best · " : "") +
              (i > 0 && take.batch !== sweep.takes[i - 1]?.batch ? `fill ${fillOf(sweep, take)} · ` : "") +
              (take.method === "auto"
                ? [...new Set(take.parts.map((part) => part.method))].join(" + ")
                : take.method)
            }
            pressed={stands === take.id}
            picked={sweep.pick === take.id}
            view={() => view(take.id)}
          />
        ))}
        {isBusy(sweep) && <Coming sweep={sweep} />}
        {sweep.run?.state === "failed" && <FillTrouble sweep={sweep} actions={actions} />}
      </Flex>
      <Flex direction="column" gap="5px" w="150px" flexShrink={0}>
        <Lead
          keys="Enter"
          disabled={!sweep.takes.length || stands === (sweep.pick ?? -1)}
          onClick={() => actions.pick(sweep, stands)}
        >
          {stands === 0 ? "Leave as shot" : stands === sweep.pick ? "Picked" : "Pick this take"}
        </Lead>
        <Act
          pressed={before}
          keys="B"
          tip="This sweep as shot, while held"
          disabled={!sweep.takes.length}
          onPointerDown={() => set({ before: true })}
          onPointerUp={() => set({ before: false })}
          onPointerLeave={() => set({ before: false })}
        >
          Before <Key>B</Key>
        </Act>
        <Flex gap="6px">
          <Act
            flex="1"
            aria-label="Previous take"
            keys=","
            disabled={!sweep.takes.length}
            onClick={() => view(step(sweep, stands, -1))}
          >
            ‹
          </Act>
          <Act
            flex="1"
            aria-label="Next take"
            keys="."
            disabled={!sweep.takes.length}
            onClick={() => view(step(sweep, stands, 1))}
          >
            ›
          </Act>
        </Flex>
      </Flex>
      <Comparing sweep={sweep} stands={stands} />
      <SecondLook desk={desk} sweep={sweep} actions={actions} viewer={viewer} />
    </Flex>
  );
}

const WAYS: [Compare, string, string, string][] = [
  ["split", "Split", "R", "The other one left of a line, this take right of it: move the line"],
  ["blink", "Blink", "E", "One after the other, in place"],
  ["difference", "Difference", "D", "What is not the same, four times as strong; grey is equal"],
];

/** Two takes held against each other. */
function Comparing({ sweep, stands }: { sweep: Sweep; stands: number }) {
  const { compare, against, mixing, set } = useDeskState();
  const name = (take: number) => {
    const at = sweep.takes.findIndex((each) => each.id === take);
    return at < 0 ? "as shot" : `take ${at + 1}`;
  };
  const others = [0, ...sweep.takes.map((take) => take.id)].filter((take) => take !== stands);
  const names = others.map(name);
  return (
    <Grid
      templateColumns="1fr 1fr"
      gap="5px"
      w="172px"
      flexShrink={0}
      alignContent="start"
      role="group"
      aria-label="Compare"
    >
      <Box gridColumn="1 / 3">
        <Choice
          label="Compare with"
          value={names.includes(name(against)) ? name(against) : (names[0] ?? "as shot")}
          among={names}
          wide="100%"
          disabled={!sweep.takes.length}
          onChange={(chosen) => set({ against: others[names.indexOf(chosen)] ?? 0 })}
        />
      </Box>
      <Minor
        pressed={mixing}
        keys="X"
        tip="Paint where the other one shows; the mix is a take of its own"
        disabled={!sweep.takes.length}
        onClick={() => set({ mixing: !mixing })}
      >
        Mix
      </Minor>
      {WAYS.map(([way, label, key, tip]) => (
        <Minor
          key={way}
          pressed={compare === way}
          keys={key}
          tip={tip}
          disabled={!sweep.takes.length}
          onClick={() => set({ compare: compare === way ? "off" : way, blinked: false })}
        >
          {label}
        </Minor>
      ))}
    </Grid>
  );
}

const step = (sweep: Sweep, at: number, by: number) => {
  const order = [0, ...sweep.takes.map((take) => take.id)];
  return order[(order.indexOf(at) + by + order.length) % order.length] ?? 0;
};

function hint(desk: Desk): string {
  if (!desk.sweeps.length) return "Paint over what should go: its takes will be here.";
  return "Choose a sweep on the job sheet to see its takes, or paint a new mark.";
}

function Quiet({ text }: { text: string }) {
  return (
    <Flex
      as="section"
      aria-label="Takes"
      h={ROOM}
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      px="14px"
      align="center"
    >
      <Text color="soft">{text}</Text>
    </Flex>
  );
}

type CardProps = {
  desk: Desk;
  sweep: Sweep;
  take: number;
  label: string;
  note?: string;
  pressed: boolean;
  picked: boolean;
  view: () => void;
  title?: string;
  favourite?: boolean;
  favour?: () => void;
  /** The first take of a later fill. */
  newBatch?: boolean;
};

function Card(props: CardProps) {
  const { desk, sweep, take, label, note, pressed, picked, view, title, favourite, favour, newBatch } = props;
  const box = framed(sweep.box, desk.frame, SHAPE);
  const look = { revision: pictured(desk), sweep: sweep.id, take };
  return (
    <Box
      flexShrink={0}
      position="relative"
      borderLeft={newBatch ? "2px solid" : undefined}
      borderColor="#8a8a84"
      pl={newBatch ? "8px" : undefined}
    >
      <button
        type="button"
        aria-pressed={pressed}
        aria-label={picked ? `${label}, the pick` : label}
        title={title}
        onClick={view}
      >
        <Box border="3px solid" borderColor={pressed ? "marigold" : "transparent"} borderRadius="2px">
          <Image
            src={cropUrl(desk.frame.id, look, box, 320)}
            alt=""
            h={`${TALL}px`}
            w={`${TALL * SHAPE}px`}
            objectFit="cover"
          />
        </Box>
        <Flex justify="space-between" px="3px" gap="6px" w={`${TALL * SHAPE + 6}px`}>
          <Text fontWeight={700} whiteSpace="nowrap">
            {label}
            {picked ? " ✓ pick" : ""}
          </Text>
          <Text color="soft" fontSize="13px" truncate pr={favour ? "18px" : undefined}>
            {note}
          </Text>
        </Flex>
      </button>
      {favour && (
        <button
          type="button"
          aria-pressed={favourite}
          aria-label={label.replace("Take", "Favourite")}
          title="A favourite. Key: *"
          onClick={favour}
          style={{ position: "absolute", right: 4, top: TALL + 8, lineHeight: 1 }}
        >
          <Text as="span" fontSize="16px" color={favourite ? "#8a5a00" : "#8a8a84"}>
            {favourite ? "♥" : "♡"}
          </Text>
        </button>
      )}
    </Box>
  );
}

/** Which fill of its sweep a take came out of, from 1 on. */
const batches = (sweep: Sweep) => [...new Set(sweep.takes.map((each) => each.batch))];
const fillOf = (sweep: Sweep, take: Take) => batches(sweep).indexOf(take.batch) + 1;

/** When and how a take was made: the fill it belongs to, its seed, what it took. */
function facts(sweep: Sweep, take: Take): string {
  const at = new Date(take.made_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
  const fill = `Fill ${fillOf(sweep, take)} of ${batches(sweep).length}`;
  const how = `${take.method}, ${take.quality}, seed ${take.seed}, ${take.seconds.toFixed(1)} s`;
  return [`${fill}, ${at}`, how, ...ledger(take)].join("\n");
}

function Coming({ sweep }: { sweep: Sweep }) {
  return (
    <Flex
      direction="column"
      justify="center"
      align="center"
      w={`${TALL * SHAPE}px`}
      h={`${TALL + 6}px`}
      bg="#d3d3cf"
      flexShrink={0}
      gap="2"
    >
      <Text fontSize="13px">{said(sweep)}</Text>
      {sweep.run?.doing && (
        <Text fontSize="12px" color="soft" lineHeight="1.15" textAlign="center" px="4px" aria-live="polite">
          {sweep.run.doing}
        </Text>
      )}
      <progress value={sweep.run?.progress ?? 0} aria-label="Fill" style={{ width: 110 }} />
    </Flex>
  );
}
