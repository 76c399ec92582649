import { Box, Flex, Image, Input, Text } from "@chakra-ui/react";
import { Eye, EyeOff, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Desk, Sweep } from "../api/client";
import { cropUrl, framed } from "../api/views";
import { Act } from "../theme/controls";
import type { Actions } from "./actions";
import type { PictureViewer } from "./canvas/viewer";
import { standing } from "./look";
import { useDeskState } from "./state";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** The numbered list of what is to go, like a retoucher's to-do list. */
export function JobSheet({ desk, actions, viewer }: Props) {
  const { selected, select } = useDeskState();
  const open = desk.sweeps.filter((s) => s.state === "choose").length;
  return (
    <Box
      as="aside"
      aria-label="Job sheet"
      w="236px"
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
        <Text fontWeight={700}>Job sheet</Text>
        <Text color="soft" fontSize="13px">
          {desk.sweeps.length === 1 ? "1 sweep" : `${desk.sweeps.length} sweeps`}
          {open ? ` · ${open} to choose` : ""}
        </Text>
      </Flex>
      {desk.sweeps.length === 0 && (
        <Text p="12px" color="soft">
          Paint over what should go. Cover all of it and a little more, with its shadow. Then fill.
        </Text>
      )}
      <Box as="ol" listStyleType="none">
        {desk.sweeps.map((sweep) => (
          <Line
            key={sweep.id}
            sweep={sweep}
            desk={desk}
            actions={actions}
            chosen={sweep.id === selected}
            choose={() => {
              select(sweep.id);
              if (sweep.box.width > 0) viewer?.reveal(sweep.box);
            }}
          />
        ))}
      </Box>
      {desk.sweeps.length > 0 && (
        <Box p="12px">
          <Act keys="N" tip="What you paint next becomes a sweep of its own" onClick={() => select(null)}>
            New mark
          </Act>
        </Box>
      )}
    </Box>
  );
}

type LineProps = { sweep: Sweep; desk: Desk; actions: Actions; chosen: boolean; choose: () => void };

function Line({ sweep, desk, actions, chosen, choose }: LineProps) {
  const [naming, setNaming] = useState(false);
  const box = framed(sweep.box, desk.frame, 1);
  const { id } = desk.frame;
  const revision = desk.revision;
  const take = standing(sweep, null);
  const kept = sweep.state === "kept";
  return (
    <Flex
      as="li"
      gap="8px"
      px="12px"
      py="7px"
      borderBottom="1px solid"
      borderColor="line"
      borderLeft="4px solid"
      borderLeftColor={chosen ? "marigold" : "transparent"}
      bg={chosen ? "white" : "transparent"}
      aria-current={chosen}
      data-testid={`sweep-${sweep.number}`}
    >
      <button
        type="button"
        onClick={choose}
        aria-label={`Sweep ${sweep.number}, ${sweep.name}`}
        style={{
          display: "flex",
          gap: 8,
          textAlign: "left",
          flex: 1,
          minWidth: 0,
          opacity: sweep.shown ? 1 : 0.55,
        }}
      >
        <Box
          w="22px"
          h="22px"
          flexShrink={0}
          borderRadius="3px"
          border="1px solid #1b1b1a"
          bg={kept ? "ink" : "sheet"}
          color={kept ? "white" : "ink"}
          fontWeight={700}
          fontSize="12px"
          display="grid"
          placeItems="center"
        >
          {sweep.number}
        </Box>
        <Flex gap="1px" flexShrink={0}>
          <Image
            src={cropUrl(id, { revision, sweep: sweep.id, take: 0 }, box, 80)}
            alt=""
            w="36px"
            h="36px"
            objectFit="cover"
          />
          {take ? (
            <Image
              src={cropUrl(id, { revision, sweep: sweep.id, take }, box, 80)}
              alt=""
              w="36px"
              h="36px"
              objectFit="cover"
            />
          ) : (
            <Box w="36px" h="36px" bg="#d3d3cf" />
          )}
        </Flex>
        <Box minW="0" flex="1">
          {naming ? null : (
            <Text
              fontWeight={700}
              truncate
              onDoubleClick={() => setNaming(true)}
              title={`${sweep.name} (double click to rename)`}
            >
              {sweep.name}
            </Text>
          )}
          {!naming && (
            <Text fontSize="13px" color={sweep.state === "failed" ? "alarm" : "soft"}>
              {said(sweep)}
            </Text>
          )}
        </Box>
      </button>
      {naming && (
        <Input
          autoFocus
          size="xs"
          w="90px"
          aria-label="Name of the sweep"
          defaultValue={sweep.name}
          onBlur={(event) => {
            setNaming(false);
            const name = event.target.value.trim();
            if (name && name !== sweep.name) actions.change(sweep, { name });
          }}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
      )}
      {chosen && !naming && (
        <Flex direction="column" gap="2px">
          <Small
            label={sweep.shown ? `Switch off ${sweep.name}` : `Switch on ${sweep.name}`}
            keys="O"
            onClick={() => actions.change(sweep, { shown: !sweep.shown })}
          >
            {sweep.shown ? <Eye size={15} /> : <EyeOff size={15} />}
          </Small>
          <Small label={`Delete ${sweep.name}`} keys="Delete" onClick={() => actions.remove(sweep)}>
            <Trash2 size={15} />
          </Small>
        </Flex>
      )}
    </Flex>
  );
}

function Small(props: { label: string; keys: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={props.label}
      title={`${props.label}. Key: ${props.keys}`}
      onClick={props.onClick}
      style={{ padding: 2 }}
    >
      {props.children}
    </button>
  );
}

/** The state of a sweep in words. */
export function said(sweep: Sweep): string {
  const off = sweep.shown ? "" : " · off";
  if (sweep.state === "filling" && sweep.run) {
    const left = sweep.run.seconds_left;
    return `filling ${Math.round(sweep.run.progress * 100)} %${left !== null ? ` · ${Math.max(1, Math.round(left))} s left` : ""}`;
  }
  if (sweep.state === "kept") {
    const number = sweep.takes.findIndex((take) => take.id === sweep.pick) + 1;
    return `✓ kept${number ? ` · take ${number}` : ""}${off}`;
  }
  if (sweep.state === "choose") return `choose · ${sweep.takes.length} takes${off}`;
  if (sweep.state === "failed") return "failed: see below";
  return `${sweep.state}${off}`;
}
