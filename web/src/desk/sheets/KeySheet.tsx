import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import { Act, Key } from "../../theme/controls";
import { Sheet } from "../../theme/Sheet";
import { type Command, type Room, shownKey } from "../doing/commands/command";
import { now, STEPS } from "../doing/commands/table";
import { type Surround, useStateOf } from "../state/state";

const TONES: Surround[] = ["grey", "dark", "light"];

/** Every key by step of the journey, and the tone round the picture. */
export function KeySheet({ room }: { room: Room }) {
  const { set, surround } = useStateOf("set", "surround");
  return (
    <Sheet title="Keys" wide="1120px" close={() => set({ help: false })} keys="?">
      <Box css={{ columns: 3, columnGap: "26px" }}>
        {STEPS.map(([title, commands]) => (
          <Box as="section" key={title} mb="12px" aria-label={title}>
            <Heading size="xs" mb="4px" css={{ breakAfter: "avoid" }}>
              {title}
            </Heading>
            <Lines commands={commands.filter((each) => each.key)} room={room} />
          </Box>
        ))}
      </Box>
      <Flex gap="2" mt="10px" align="center">
        <Text>Round the picture</Text>
        {TONES.map((tone) => (
          <Act key={tone} pressed={surround === tone} onClick={() => set({ surround: tone })}>
            {tone}
          </Act>
        ))}
      </Flex>
    </Sheet>
  );
}

function Lines({ commands, room }: { commands: Command[]; room: Room }) {
  const said = ({ says, label }: Command) => {
    const words = typeof says === "string" ? says : says(now(room));
    return words.startsWith(label) || label.length < 2
      ? words
      : `${label}: ${words[0]?.toLowerCase()}${words.slice(1)}`;
  };
  return (
    <Grid templateColumns="92px 1fr" rowGap="3px" fontSize="13px">
      {commands.map((each) => (
        <Fragment key={each.label + each.key}>
          <span>
            <Key>{shownKey(each)}</Key>
          </span>
          <Text lineHeight="1.25">{said(each)}</Text>
        </Fragment>
      ))}
    </Grid>
  );
}
