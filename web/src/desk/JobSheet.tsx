import { Box, Flex, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import type { Desk } from "../api/client";
import { useScouts } from "../api/queries";
import { Act } from "../theme/controls";
import type { Actions } from "./actions";
import type { PictureViewer } from "./canvas/viewer";
import { FindsSheet } from "./FindsSheet";
import { HistorySheet } from "./HistorySheet";
import { MaskOptions } from "./MaskOptions";
import { SweepLine } from "./SweepLine";
import { useDeskState } from "./state";
import { TouchLine } from "./TouchLine";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** The numbered list of what is to go, like a retoucher's to-do list. */
export function JobSheet({ desk, actions, viewer }: Props) {
  const { selected, select, sheet, set } = useDeskState();
  const scouts = useScouts(desk.frame.id);
  return (
    <Box
      as="aside"
      aria-label="Job sheet"
      w="220px"
      flexShrink={0}
      borderRight="1px solid"
      borderColor="line"
      overflowY="auto"
    >
      <Flex
        px="12px"
        h="34px"
        align="center"
        justify="space-between"
        borderBottom="1px solid"
        borderColor="line"
      >
        <Flex role="tablist" aria-label="Panel" gap="12px">
          <Tab
            on={sheet === "job"}
            onClick={() => set({ sheet: "job", find: null, pointing: false, harsh: null })}
          >
            Job sheet
          </Tab>
          <Tab on={sheet === "finds"} onClick={() => set({ sheet: "finds" })}>
            Finds {scouts.data?.finds.length || ""}
          </Tab>
          <Tab
            on={sheet === "history"}
            onClick={() => set({ sheet: "history", find: null, pointing: false, harsh: null })}
          >
            History
          </Tab>
        </Flex>
      </Flex>
      {sheet === "history" && <HistorySheet desk={desk} actions={actions} />}
      {sheet === "finds" && <FindsSheet desk={desk} actions={actions} viewer={viewer} />}
      {sheet === "job" && (
        <Sweeps desk={desk} actions={actions} viewer={viewer} selected={selected} select={select} />
      )}
    </Box>
  );
}

type TabProps = { on: boolean; onClick: () => void; children: React.ReactNode };

function Tab({ on, onClick, children }: TabProps) {
  return (
    <button type="button" role="tab" aria-selected={on} title="Key: J" onClick={onClick}>
      <Text
        as="span"
        fontWeight={on ? 700 : 400}
        color={on ? "ink" : "soft"}
        borderBottom="3px solid"
        borderColor={on ? "marigold" : "transparent"}
        pb="5px"
      >
        {children}
      </Text>
    </button>
  );
}

type SweepsProps = Props & { selected: string | null; select: (sweep: string | null) => void };

function Sweeps({ desk, actions, viewer, selected, select }: SweepsProps) {
  const { also, set } = useDeskState();
  const open = desk.sweeps.filter((s) => s.state === "choose").length;
  /** Touch-ups that lie on so many sweeps and under the rest. */
  const between = (sweeps: number) => {
    const touches = desk.touches.filter((touch) => touch.over === sweeps);
    return touches.length > 0 && <TouchLine touches={touches} actions={actions} />;
  };
  return (
    <>
      {open > 0 && (
        <Text px="12px" py="5px" color="soft" fontSize="13px" borderBottom="1px solid" borderColor="line">
          {open} of {desk.sweeps.length} to choose
        </Text>
      )}
      {desk.sweeps.length === 0 && (
        <Text p="12px" color="soft">
          Paint over what should go. Cover all of it and a little more, with its shadow. Then fill.
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
                if (sweep.box.width > 0) viewer?.reveal(sweep.box);
              }}
            />
          </Fragment>
        ))}
        {between(desk.sweeps.length)}
      </Box>
      {desk.sweeps.length > 0 && (
        <Box p="12px" pb="4px">
          <Act keys="N" tip="What you paint next becomes a sweep of its own" onClick={() => select(null)}>
            New mark
          </Act>
        </Box>
      )}
      <MaskOptions desk={desk} actions={actions} />
    </>
  );
}
