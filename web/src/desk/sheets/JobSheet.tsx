import { Box, Flex, Tabs, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import type { Desk } from "../../api/client";
import { useScouts } from "../../api/queries";
import { Small } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { useStateOf } from "../state/state";
import { FindsSheet } from "./FindsSheet";
import { HistorySheet } from "./HistorySheet";
import { MaskOptions } from "./MaskOptions";
import { Removing } from "./Removing";
import { SweepLine } from "./SweepLine";
import { TouchLine } from "./TouchLine";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** What of the finds is put away with their sheet. */
const CLOSED = { find: null, pointing: false, harsh: null };

/** The numbered list of what is to go, like a retoucher's to-do list. */
export function JobSheet({ desk, actions, viewer }: Props) {
  const {
    selected,
    select,
    sheet,
    sheetWide: wide,
    set,
  } = useStateOf("selected", "select", "sheet", "sheetWide", "set");
  const scouts = useScouts(desk.frame.id);
  return (
    <Box
      as="aside"
      id="job-sheet"
      aria-label={words.sheets.jobSheet}
      w={`min(${wide}px, 45vw)`}
      flexShrink={0}
      overflow="hidden"
    >
      <Tabs.Root
        h="100%"
        display="flex"
        flexDirection="column"
        value={sheet}
        onValueChange={({ value }) =>
          set({ sheet: value as typeof sheet, ...(value === "finds" ? {} : CLOSED) })
        }
        size="sm"
        variant="plain"
        lazyMount
        unmountOnExit
      >
        <Panels finds={scouts.data?.finds.length ?? 0} />
        <Tabs.Content value="history" {...SCROLLED}>
          <HistorySheet desk={desk} actions={actions} />
        </Tabs.Content>
        <Tabs.Content value="finds" {...SCROLLED}>
          <FindsSheet desk={desk} actions={actions} viewer={viewer} />
        </Tabs.Content>
        <Tabs.Content value="job" {...SCROLLED}>
          <Sweeps desk={desk} actions={actions} viewer={viewer} selected={selected} select={select} />
        </Tabs.Content>
      </Tabs.Root>
    </Box>
  );
}

/** The names of the panels. */
function Panels({ finds }: { finds: number }) {
  return (
    <Tabs.List
      aria-label={words.sheets.panel}
      px="12px"
      h="34px"
      gap="12px"
      w="100%"
      borderBottom="1px solid"
      borderColor="line"
      alignItems="center"
      flexShrink={0}
    >
      <Tab value="job" tip={words.sheets.jobSheetTip}>
        {words.sheets.jobSheet}
      </Tab>
      <Tab value="finds" tip={words.sheets.findsTip}>
        {words.sheets.finds(finds || "")}
      </Tab>
      <Tab value="history" tip={words.sheets.historyTip}>
        {words.sheets.history}
      </Tab>
    </Tabs.List>
  );
}

/** Each panel scrolls below the tabs. */
const SCROLLED = {
  ...{ p: "0", flex: "1", minH: "0", position: "relative" },
  ...{ overflowY: "auto", overflowX: "hidden" },
} as const;

function Tab({ value, tip, children }: { value: string; tip: string; children: React.ReactNode }) {
  return (
    <Tabs.Trigger
      value={value}
      {...tipped(tip)}
      px="0"
      h="34px"
      color="soft"
      fontWeight={400}
      fontSize="14px"
      borderBottom="3px solid transparent"
      borderRadius="0"
      _selected={{ color: "ink", fontWeight: 700, borderColor: "marigold" }}
    >
      {children}
    </Tabs.Trigger>
  );
}

type SweepsProps = Props & { selected: string | null; select: (sweep: string | null) => void };

function Sweeps({ desk, actions, viewer, selected, select }: SweepsProps) {
  const { also, set } = useStateOf("also", "set");
  /** Touch-ups that lie on so many sweeps and under the rest. */
  const between = (sweeps: number) => {
    const touches = desk.touches.filter((touch) => touch.over === sweeps);
    return touches.length > 0 && <TouchLine touches={touches} actions={actions} />;
  };
  return (
    <>
      <Removing desk={desk} actions={actions} />
      <Undecided desk={desk} />
      {desk.sweeps.length === 0 && (
        <Text p="12px" color="soft">
          {words.sheets.nothingMarked}
        </Text>
      )}
      <Box as="ol" listStyleType="none">
        {desk.sweeps.map((sweep, i) => (
          <Fragment key={sweep.id}>
            {between(i)}
            <SweepLine
              sweep={sweep}
              desk={desk}
              actions={actions}
              chosen={sweep.id === selected}
              also={also.includes(sweep.id)}
              choose={(more) => {
                if (more && selected && selected !== sweep.id) {
                  const others = also.filter((each) => each !== sweep.id);
                  set({ also: others.length < also.length ? others : [...also, sweep.id] });
                  return;
                }
                select(sweep.id);
                if (sweep.box.width > 0) viewer?.camera.reveal(sweep.box);
              }}
            />
          </Fragment>
        ))}
        {between(desk.sweeps.length)}
      </Box>
      {desk.sweeps.length > 0 && (
        <Box p="12px" pb="4px">
          <Do id="newMark" />
        </Box>
      )}
      <MaskOptions desk={desk} actions={actions} />
    </>
  );
}

/** How many sweeps nobody has decided on, and all of them accepted at once. */
function Undecided({ desk }: { desk: Desk }) {
  const open = desk.sweeps.filter((s) => s.state === "choose").length;
  const provisional = desk.sweeps.filter((s) => s.provisional).length;
  if (open + provisional === 0) return null;
  return (
    <Flex px="12px" py="5px" borderBottom="1px solid" borderColor="line" align="center" gap="10px">
      <Text
        color="soft"
        fontSize="13px"
        flex="1"
        {...tipped(words.glossary[open > 0 ? "take" : "provisional"][1])}
      >
        {open > 0
          ? words.sheets.ofToChoose(open, desk.sweeps.length)
          : words.sheets.ofProvisional(provisional, desk.sweeps.length)}
      </Text>
      {provisional > 0 && <Do id="acceptAll" as={Small} />}
    </Flex>
  );
}
