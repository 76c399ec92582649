import { Box, Flex, Text } from "@chakra-ui/react";
import type { Frame, Wanted } from "../api/client";
import { Amount, Radio, Tick } from "../theme/controls";
import * as words from "../words/words";
import { about, KINDS } from "./wanted";

type Props = { frames: Frame[]; wanted: Wanted; change: (some: Partial<Wanted>) => void };

/** Which kind of file, and what can be set about it. */
export function Kinds({ frames, wanted, change }: Props) {
  return (
    <fieldset>
      <legend style={{ fontWeight: 700, marginBottom: 4 }}>{words.deliver.file}</legend>
      {KINDS.map(([kind, name]) => (
        <Box key={kind}>
          <Radio
            name="kind"
            checked={wanted.kind === kind}
            choose={() => change({ kind })}
            align="flex-start"
          >
            <span>
              <b>{name}</b>
              {wanted.kind === kind && (
                <Text as="span" display="block" color="soft" fontSize="13px">
                  {about(kind, frames, wanted)}
                </Text>
              )}
            </span>
          </Radio>
          {kind === "web" && wanted.kind === "web" && <ForWeb wanted={wanted} change={change} />}
        </Box>
      ))}
      <Ticked checked={wanted.ledger} onChange={(ledger) => change({ ledger })}>
        {words.deliver.ledgerIntoFile}
      </Ticked>
      <Ticked checked={wanted.masks} onChange={(masks) => change({ masks })}>
        {words.deliver.masksBeside}
      </Ticked>
    </fieldset>
  );
}

function ForWeb({ wanted, change }: Omit<Props, "frames">) {
  return (
    <Box pl="22px" pb="4px">
      <Flex gap="12px" align="center">
        <Amount
          label={words.deliver.longSide}
          unit={words.units.px}
          wide="52px"
          value={wanted.longest}
          least={16}
          most={20_000}
          onChange={(longest) => change({ longest })}
        />
        <Amount
          label={words.deliver.quality}
          value={wanted.quality}
          least={1}
          most={100}
          onChange={(quality) => change({ quality })}
        />
      </Flex>
      <Ticked checked={wanted.sharpen} onChange={(sharpen) => change({ sharpen })}>
        {words.deliver.sharpened}
      </Ticked>
    </Box>
  );
}

function Ticked(props: { checked: boolean; onChange: (checked: boolean) => void; children: string }) {
  return (
    <Flex as="label" gap="8px" pt="6px" align="center" cursor="pointer">
      <Tick checked={props.checked} onChange={props.onChange} />
      {props.children}
    </Flex>
  );
}
