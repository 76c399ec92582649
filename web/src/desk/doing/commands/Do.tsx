import { type ComponentType, createContext, useContext } from "react";
import { Act, type ActProps } from "../../../theme/controls";
import { chosen } from "../../reading/sweeps";
import { useDeskState } from "../../state/state";
import { type Command, type Room, shownKey } from "./command";
import { COMMANDS, type CommandId, can, now } from "./table";

/** The room that commands are done in. */
export const TheRoom = createContext<Room | null>(null);

/** A button that does a command: its words, its key and whether it can be done come out of the table. */
export function Do({
  id,
  as: Shape = Act,
  children,
  ...rest
}: ActProps & { id: CommandId; as?: ComponentType<ActProps> }) {
  const room = useContext(TheRoom);
  const command: Command = COMMANDS[id];
  // Only what shows on the button makes it drawn anew.
  const told = useDeskState((state) => {
    if (!room) return "";
    const at = { ...room, state, sweep: chosen(room.desk, state.selected) };
    const says = typeof command.says === "string" ? command.says : command.says(at);
    return `${can(command, at) ? "can" : ""}|${command.on?.(at) ? "on" : ""}|${says}`;
  });
  if (!room) return null;
  const [able, on, ...says] = told.split("|");
  const { does, holds } = command;
  // One that works only while its key is held works while its button is.
  const holding = holds &&
    !does && {
      onPointerDown: () => holds.starts(now(room)),
      onPointerUp: () => holds.ends(now(room), Number.POSITIVE_INFINITY),
      onPointerLeave: () => holds.ends(now(room), Number.POSITIVE_INFINITY),
    };
  return (
    <Shape
      keys={shownKey(command)}
      tip={says.join("|")}
      disabled={!able}
      pressed={command.on && on === "on"}
      onClick={() => does?.(now(room))}
      {...(holding || {})}
      {...rest}
    >
      {children ?? command.label}
    </Shape>
  );
}
