import * as words from "../../../words/words";
import { chosen } from "../../reading/sweeps";
import { useDeskState } from "../../state/state";
import { carrying } from "./carrying";
import { choosing } from "./choosing";
import type { At, Command, Room } from "./command";
import { delivering } from "./delivering";
import { filling } from "./filling";
import { finding } from "./finding";
import { looking } from "./looking";
import { marking } from "./marking";
import { renewing } from "./renewing";
import { touching } from "./touching";

/** Everything that can be done from the desk by a key or a button, in the order of the journey. */
export const COMMANDS = {
  ...marking,
  ...finding,
  ...filling,
  ...choosing,
  ...touching,
  ...carrying,
  ...renewing,
  ...delivering,
  ...looking,
};
export type CommandId = keyof typeof COMMANDS;
export const ALL = Object.entries(COMMANDS) as [CommandId, Command][];

/** The same under headings, for the sheet of keys. */
export const STEPS: [string, Command[]][] = [
  [words.steps.mark, Object.values(marking)],
  [words.steps.finds, Object.values(finding)],
  [words.steps.fill, Object.values(filling)],
  [words.steps.choose, Object.values(choosing)],
  [words.steps.touchUp, Object.values(touching)],
  [words.steps.carryOver, Object.values(carrying)],
  [words.steps.newerVersions, Object.values(renewing)],
  [words.steps.deliver, Object.values(delivering)],
  [words.steps.look, Object.values(looking)],
];

/** The room as it is at this moment. */
export function now(room: Room): At {
  const state = useDeskState.getState();
  return { ...room, state, sweep: chosen(room.desk, state.selected) };
}

export const can = (command: Command, at: At): boolean => command.can?.(at) ?? true;

/** The command that a key means now: of those with that key, the first that can be done. */
export const meant = (key: string, at: At): Command | undefined =>
  ALL.map(([, command]) => command).find((command) => command.key === key && can(command, at));
