import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import { Act, Key } from "../../theme/controls";
import { Sheet } from "../../theme/Sheet";
import * as words from "../../words/words";
import { type Command, type Room, shownKey } from "../doing/commands/command";
import { now, STEPS } from "../doing/commands/table";
import { STEPS as GUIDE, SAYS } from "../reading/guide";
import type { Surround } from "../state/looking";
import { useStateOf } from "../state/state";

const GLOSSARY = [
  words.glossary.shoot,
  words.glossary.frame,
  words.glossary.sweep,
  words.glossary.guard,
  words.glossary.scout,
  words.glossary.find,
  words.glossary.take,
  words.glossary.provisional,
  words.glossary.pick,
  words.glossary.snag,
  words.glossary.wall,
  words.glossary.strip,
  words.glossary.ledger,
];
const TONES: Surround[] = ["grey", "dark", "light"];

/** Every key by step of the journey, and the tone round the picture. */
export function KeySheet({ room }: { room: Room }) {
  const { set, surround } = useStateOf("set", "surround");
  return (
    <Sheet title={words.sheets.keys} wide="1120px" close={() => set({ help: false })} keys="?">
      <Course />
      <Glossary />
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
        <Text>{words.sheets.roundThePicture}</Text>
        {TONES.map((tone) => (
          <Act key={tone} pressed={surround === tone} onClick={() => set({ surround: tone })}>
            {words.named.surround[tone]}
          </Act>
        ))}
      </Flex>
    </Sheet>
  );
}

/** The way through a picture in five sentences, to be read here or walked on the desk. */
function Course() {
  const { set } = useStateOf("set");
  return (
    <Box
      as="section"
      aria-label={words.sheets.course}
      mb="14px"
      p="10px 12px"
      bg="raised"
      border="1px solid"
      borderColor="line"
    >
      <Flex align="center" gap="12px" mb="4px">
        <Heading size="xs">{words.sheets.courseTitle}</Heading>
        <Act tip={words.sheets.walkMeThroughTip} onClick={() => set({ learned: [], help: false })}>
          {words.sheets.walkMeThrough}
        </Act>
      </Flex>
      <Box as="ol" pl="18px" fontSize="13px" lineHeight="1.35">
        {GUIDE.map((step) => (
          <li key={step}>{SAYS[step]}</li>
        ))}
      </Box>
    </Box>
  );
}

/** What the words of this program mean; folded until it is asked for. */
function Glossary() {
  return (
    <Box as="details" mb="14px" fontSize="13px">
      <Text as="summary" cursor="pointer" fontWeight={700}>
        {words.sheets.glossary}
      </Text>
      <Grid as="dl" templateColumns="92px 1fr 92px 1fr" columnGap="12px" rowGap="4px" mt="6px">
        {GLOSSARY.map(([word, meaning]) => (
          <Fragment key={word}>
            <Text as="dt" fontWeight={700} lineHeight="1.3">
              {word}
            </Text>
            <Text as="dd" lineHeight="1.3">
              {meaning}
            </Text>
          </Fragment>
        ))}
      </Grid>
    </Box>
  );
}

function Lines({ commands, room }: { commands: Command[]; room: Room }) {
  const said = ({ says, label }: Command) => {
    const line = typeof says === "string" ? says : says(now(room));
    return line.startsWith(label) || label.length < 2 ? line : words.sheets.commandLine(label, line);
  };
  return (
    <Grid templateColumns="104px 1fr" rowGap="3px" fontSize="13px">
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
