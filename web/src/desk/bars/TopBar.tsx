import { Flex, Spacer, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Desk } from "../../api/client";
import { Amount, Choice, Key, Lead } from "../../theme/controls";
import { Mark } from "../../theme/Mark";
import { Sheet } from "../../theme/Sheet";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import { Do } from "../doing/commands/Do";
import { SIZES } from "../reading/delivery";
import { useStateOf } from "../state/state";
import { ReadyElsewhere } from "./ReadyElsewhere";

type Props = {
  desk: Desk;
  viewer: PictureViewer | null;
  go: (frame: number, sweep?: string) => void;
};

const OTHER = words.bars.anotherWidth;

/** The picture at the size at which people will look at it: much of what shows at 100 % cannot be seen there. */
function DeliverySize({ desk, viewer }: Omit<Props, "go">) {
  const { delivery, set } = useStateOf("delivery", "set");
  const [asking, setAsking] = useState(false);
  const names = Object.keys(SIZES);
  const own = words.bars.pxWide(delivery);
  const named = names.find((name) => SIZES[name] === delivery) ?? own;
  const take = (width: number) => {
    set({ delivery: width });
    viewer?.camera.zoomTo(width / desk.frame.width);
  };
  return (
    <>
      <Choice
        label={words.bars.deliverySize}
        value={named}
        among={[...names, ...(named === own ? [own] : []), OTHER]}
        wide="118px"
        onChange={(name) => {
          const size = SIZES[name];
          if (size) take(size);
          else setAsking(name === OTHER);
        }}
      />
      <Do id="delivered" />
      {asking && (
        <Sheet title={words.bars.deliverySize} wide="300px" close={() => setAsking(false)}>
          <Amount
            label={words.bars.widthOnTheScreen}
            unit={words.units.px}
            value={delivery}
            least={50}
            most={20_000}
            onChange={(width) => {
              take(width);
              setAsking(false);
            }}
          />
        </Sheet>
      )}
    </>
  );
}

/** Which picture this is, and the way back to all of them. */
function Which({ desk }: { desk: Desk }) {
  const at = desk.neighbours.findIndex((n) => n.id === desk.frame.id);
  return (
    <>
      <Link to="/" aria-label={words.app.allShoots}>
        <Flex align="center" gap="8px">
          <Mark />
          <Text
            fontWeight={700}
            fontSize="16px"
            whiteSpace="nowrap"
            display={{ base: "none", "2xl": "block" }}
          >
            {words.app.name}
          </Text>
        </Flex>
      </Link>
      <Text
        color="soft"
        ml="8px"
        minW="0"
        maxW={{ base: "140px", xl: "240px", "2xl": "22vw" }}
        truncate
        data-tip={`${desk.frame.name} · ${desk.shoot}`}
      >
        <b style={{ color: "var(--chakra-colors-ink)" }}>{desk.frame.name}</b> · {desk.shoot}
      </Text>
      <Text color="soft" whiteSpace="nowrap">
        {words.bars.frameOf(at + 1, desk.neighbours.length)}
      </Text>
    </>
  );
}

export function TopBar({ desk, viewer, go }: Props) {
  const { zoom } = useStateOf("zoom");
  const open = useNavigate();
  return (
    <Flex
      as="header"
      data-tight
      position="relative"
      align="center"
      gap="4px 8px"
      wrap="wrap"
      px="10px"
      py="6px"
      minH="44px"
      borderBottom="1px solid"
      borderColor="line"
      flexShrink={0}
    >
      <Which desk={desk} />
      <Do id="previousFrame" aria-label={words.bars.previousPicture} />
      <Do id="nextFrame" aria-label={words.bars.nextPicture} />
      <Do id="strip" />
      <Spacer />
      <Do id="undo" />
      <Do id="redo" />
      <Do id="asShot">
        {words.app.asShot} <Key>A</Key>
      </Do>
      <Do id="fit" />
      <Do id="full" />
      <Do id="twice" />
      <DeliverySize desk={desk} viewer={viewer} />
      <Text w="52px" textAlign="right" color="soft" aria-label={words.bars.zoom}>
        {words.units.percent(Math.round(zoom * 100))}
      </Text>
      <Do id="help" pressed={undefined} />
      <Lead keys="F6" tip={words.bars.deliverTip} onClick={() => open(`/frames/${desk.frame.id}/deliver`)}>
        {words.bars.deliver}
      </Lead>
      <ReadyElsewhere desk={desk} go={go} />
    </Flex>
  );
}
