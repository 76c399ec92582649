import { Box, Flex, Text } from "@chakra-ui/react";
import { useRef } from "react";
import type { Desk } from "../../api/client";
import { Amount, Check, Choice, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Pattern } from "../canvas/hatch";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { COLOURS } from "../state/looking";
import { useStateOf } from "../state/state";

const PATTERNS: Pattern[] = ["hatch", "lattice", "dots", "flat"];

/** How masks are shown, a mask from a file, the guard: what holds for all sweeps of the picture. */
export function MaskOptions({ desk, actions }: { desk: Desk; actions: Actions }) {
  const { fillAtOnce, set } = useStateOf("fillAtOnce", "set");
  return (
    <Box as="details" p="12px" pt="6px" fontSize="13px">
      <Text as="summary" cursor="pointer" color="soft">
        {words.sheets.masksAndGuard}
      </Text>
      <Box display="grid" gap="7px" mt="7px">
        <Colours />
        <PatternAndStrength />
        <Check
          label={words.sheets.fillAtEnd}
          checked={fillAtOnce}
          onChange={(on) => set({ fillAtOnce: on })}
        />
        <Flex gap="5px" wrap="wrap">
          <Do id="maskAlone" as={Minor} />
          <FromFile load={actions.loadMask} />
          <Minor tip={words.sheets.guardTheSubjectTip} onClick={() => actions.guardSubject()}>
            {words.sheets.guardTheSubject}
          </Minor>
          {desk.guard && (
            <Minor tip={words.sheets.clearGuardTip} onClick={() => actions.clearGuard()}>
              {words.sheets.clearGuard}
            </Minor>
          )}
        </Flex>
      </Box>
    </Box>
  );
}

function Colours() {
  const { look, set } = useStateOf("look", "set");
  return (
    <Flex gap="4px" role="group" aria-label={words.sheets.colourOfMasks}>
      {COLOURS.map(([colour, name]) => (
        <button
          key={colour}
          type="button"
          data-tip={words.named.colour[name]}
          aria-label={words.named.colour[name]}
          aria-pressed={look.colour === colour}
          onClick={() => set({ look: { ...look, colour } })}
          style={{
            width: 26,
            height: 22,
            background: colour,
            borderRadius: 3,
            border:
              look.colour === colour
                ? "2.5px solid var(--chakra-colors-ink)"
                : "1px solid var(--chakra-colors-edge)",
          }}
        />
      ))}
    </Flex>
  );
}

function PatternAndStrength() {
  const { look, set } = useStateOf("look", "set");
  return (
    <Flex gap="6px" align="center" justify="space-between">
      <Choice
        label={words.sheets.patternOfMasks}
        value={look.pattern}
        among={PATTERNS}
        said={(each) => words.named.pattern[each]}
        wide="80px"
        onChange={(pattern) => set({ look: { ...look, pattern } })}
      />
      <Amount
        label={words.sheets.strength}
        unit="%"
        value={Math.round(look.strength * 100)}
        least={10}
        most={100}
        onChange={(value) => set({ look: { ...look, strength: value / 100 } })}
      />
    </Flex>
  );
}

function FromFile({ load }: { load: (file: File) => void }) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Minor tip={words.sheets.loadMaskTip} onClick={() => file.current?.click()}>
        {words.sheets.loadMask}
      </Minor>
      <input
        ref={file}
        type="file"
        accept="image/png,image/tiff,image/jpeg"
        aria-label={words.sheets.maskFile}
        hidden
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          if (chosen) load(chosen);
          event.target.value = "";
        }}
      />
    </>
  );
}
