import { Flex } from "@chakra-ui/react";
import type { Desk, Grain } from "../api/client";
import { Act, Choice, Key, Lead } from "../theme/controls";
import { type Actions, isBusy } from "./actions";
import { BrushShape } from "./BrushShape";
import { isLong } from "./brush";
import { chosen } from "./look";
import { type Tool, useDeskState } from "./state";

/** Ways to draw, with what each does and its key. */
export const TOOLS: [Tool, string, string, string][] = [
  ["brush", "Brush", "5", "Paint over what goes"],
  ["outline", "Outline", "6", "Draw round it: the line closes itself and is filled"],
  ["corners", "Corners", "7", "Round it point by point. Backspace takes the last one back, Enter closes"],
  ["box", "Box", "8", "Pull up a box"],
  ["pieces", "Pieces", "9", "The picture in pieces: point to see one, click or stroke to take"],
];
const GRAINS: Grain[] = ["small", "medium", "large"];

/** Under the picture: what marking needs, and Fill. */
export function MarkingBar({ desk, actions }: { desk: Desk; actions: Actions }) {
  const state = useDeskState();
  const { tool, grain, erase, flipped, cling, guarding, masks, pricing, set } = state;
  const sweep = chosen(desk, state.selected);
  const busy = sweep ? isBusy(sweep) : false;
  const empty = !sweep?.shapes.length;
  return (
    <Flex
      role="toolbar"
      aria-label="Marking"
      align="center"
      justify="center"
      gap="4px"
      css={{ "& button": { paddingInline: "7px" } }}
      h="42px"
      px="8px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="panel"
      whiteSpace="nowrap"
    >
      <Flex role="group" aria-label="Ways to draw">
        {TOOLS.map(([value, label, key, tip]) => (
          <Act
            key={value}
            px="8px"
            pressed={tool === value}
            keys={key}
            tip={tip}
            onClick={() => set({ tool: value })}
          >
            {label}
          </Act>
        ))}
      </Flex>
      <Act
        keys="3"
        tip="Clone, heal, bring back: by hand, on top of the fills"
        onClick={() => set({ tool: "clone" })}
      >
        Touch up
      </Act>
      {tool === "brush" && <BrushShape />}
      {tool === "pieces" && (
        <Choice
          label="Size of the pieces"
          value={grain}
          among={GRAINS}
          wide="96px"
          onChange={(next) => set({ grain: next })}
        />
      )}
      <Act
        pressed={erase !== flipped}
        keys="T"
        tip="Take away instead of add; the key works while it is held"
        onClick={() => set({ erase: !erase })}
      >
        Take away
      </Act>
      {tool !== "pieces" && (
        <Act
          pressed={cling && !guarding}
          disabled={guarding}
          keys="C"
          tip="Tighten what you draw to the thing under it, with a margin"
          onClick={() => set({ cling: !cling })}
        >
          Cling
        </Act>
      )}
      <Act
        pressed={guarding}
        keys="U"
        tip="What you draw is guarded: no mask enters it and no fill changes it"
        onClick={() => set({ guarding: !guarding })}
      >
        Guard
      </Act>
      <Act pressed={masks} keys="M" tip="Show masks and flags" onClick={() => set({ masks: !masks })}>
        Masks
      </Act>
      {busy && sweep?.run ? (
        <Act
          keys=""
          tip="Takes that are ready stay"
          onClick={() => sweep.run && actions.cancel(sweep.run.id)}
        >
          Cancel fill
        </Act>
      ) : (
        <>
          {sweep && isLong(sweep) && (
            <Act
              keys="G"
              tip="Section by section, each on top of the last"
              onClick={() => actions.fill(sweep, { staged: true })}
            >
              In stages
            </Act>
          )}
          <Act
            keys="Q"
            tip="One rough take in about a second"
            disabled={empty}
            onClick={() => sweep && actions.fill(sweep, { takes: 1, quality: "fast" })}
          >
            Quick look
          </Act>
          <Lead
            disabled={empty || pricing}
            keys="F"
            tip="Make three takes"
            onClick={() => sweep && actions.fill(sweep)}
          >
            {pricing && sweep?.method === "model" ? "Asking…" : sweep?.takes.length ? "Three more" : "Fill"}{" "}
            <Key>F</Key>
          </Lead>
        </>
      )}
    </Flex>
  );
}
