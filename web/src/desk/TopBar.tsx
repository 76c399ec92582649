import { Flex, Spacer, Text } from "@chakra-ui/react";
import { Link, useNavigate } from "react-router";
import type { Desk } from "../api/client";
import { Act, Choice, Key, Lead } from "../theme/controls";
import { Mark } from "../theme/Mark";
import type { Actions } from "./actions";
import type { PictureViewer } from "./canvas/viewer";
import { SIZES } from "./delivery";
import { useDeskState } from "./state";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null; zoom: number };

type DeliveryProps = { desk: Desk; viewer: PictureViewer | null; near: (ratio: number) => boolean };

/** The picture at the size at which people will look at it: much of what shows at 100 % cannot be seen there. */
function DeliverySize({ desk, viewer, near }: DeliveryProps) {
  const { delivery, set } = useDeskState();
  const names = Object.keys(SIZES);
  const own = `${delivery} px wide`;
  const named = names.find((name) => SIZES[name] === delivery) ?? own;
  const ratio = delivery / desk.frame.width;
  return (
    <>
      <Choice
        label="Delivery size"
        value={named}
        among={[...names, ...(named === own ? [own] : []), "another width…"]}
        wide="118px"
        onChange={(name) => {
          const typed =
            SIZES[name] ??
            Number.parseInt(window.prompt("Width in screen pixels", String(delivery)) ?? "", 10);
          if (typed >= 50 && typed <= 20000) {
            set({ delivery: typed });
            viewer?.zoomTo(typed / desk.frame.width);
          }
        }}
      />
      <Act keys="Z" pressed={near(ratio)} tip="At delivery size" onClick={() => viewer?.zoomTo(ratio)}>
        Z
      </Act>
    </>
  );
}

export function TopBar({ desk, actions, viewer, zoom }: Props) {
  const { asShot, set } = useDeskState();
  const go = useNavigate();
  const at = desk.neighbours.findIndex((n) => n.id === desk.frame.id);
  const previous = desk.neighbours[at - 1];
  const next = desk.neighbours[at + 1];
  const near = (ratio: number) => Math.abs(zoom / ratio - 1) < 0.01;
  return (
    <Flex
      as="header"
      align="center"
      gap="8px"
      px="14px"
      h="44px"
      borderBottom="1px solid"
      borderColor="line"
      flexShrink={0}
    >
      <Link to="/" aria-label="All shoots">
        <Flex align="center" gap="8px">
          <Mark />
          <Text fontWeight={700} fontSize="16px" whiteSpace="nowrap">
            Keen Sweep
          </Text>
        </Flex>
      </Link>
      <Text color="soft" ml="8px" truncate>
        <b style={{ color: "#1b1b1a" }}>{desk.frame.name}</b> · {desk.shoot}
      </Text>
      <Text color="soft" whiteSpace="nowrap">
        {at + 1} of {desk.neighbours.length}
      </Text>
      <Act
        disabled={!previous}
        aria-label="Previous picture"
        onClick={() => previous && go(`/frames/${previous.id}`)}
      >
        ‹
      </Act>
      <Act disabled={!next} aria-label="Next picture" onClick={() => next && go(`/frames/${next.id}`)}>
        ›
      </Act>
      <Spacer />
      <Act
        disabled={!desk.undo}
        tip={desk.undo ? `Undo: ${desk.undo}` : "Nothing to undo"}
        keys="Ctrl Z"
        onClick={() => actions.undo()}
      >
        Undo
      </Act>
      <Act
        disabled={!desk.redo}
        tip={desk.redo ? `Redo: ${desk.redo}` : "Nothing to redo"}
        keys="Ctrl Shift Z"
        onClick={() => actions.redo()}
      >
        Redo
      </Act>
      <Act
        pressed={asShot}
        tip="The whole picture as shot; the key works while it is held"
        keys="A"
        onClick={() => set({ asShot: !asShot })}
      >
        As shot <Key>A</Key>
      </Act>
      <Act keys="0" onClick={() => viewer?.fit()}>
        Fit
      </Act>
      <Act keys="1" pressed={near(1)} onClick={() => viewer?.zoomTo(1)}>
        100 %
      </Act>
      <Act keys="2" pressed={near(2)} onClick={() => viewer?.zoomTo(2)}>
        200 %
      </Act>
      <DeliverySize desk={desk} viewer={viewer} near={near} />
      <Text w="52px" textAlign="right" color="soft" aria-label="Zoom">
        {Math.round(zoom * 100)} %
      </Text>
      <Act keys="?" tip="All keys" onClick={() => set({ help: true })}>
        ?
      </Act>
      <Lead onClick={() => go(`/frames/${desk.frame.id}/deliver`)}>Deliver…</Lead>
    </Flex>
  );
}
