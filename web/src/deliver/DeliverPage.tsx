import { Box, Flex, Heading, Image, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Desk } from "../api/client";
import { useDesk } from "../api/queries";
import { cropUrl } from "../api/views";
import { Act, Lead } from "../theme/controls";
import { Mark } from "../theme/Mark";
import { saveDelivery } from "./save";

type Format = "jpeg" | "png" | "tiff";

/** The finished picture as a file. */
export function DeliverPage() {
  const frame = Number(useParams().frameId);
  const desk = useDesk(frame);
  if (desk.error) return <Text p="30px">{desk.error.message}</Text>;
  if (!desk.data) return <Box p="30px">One moment…</Box>;
  return <Delivery desk={desk.data} key={desk.data.frame.id} />;
}

function Delivery({ desk }: { desk: Desk }) {
  const { frame, revision } = desk;
  const [format, setFormat] = useState<Format>(likeOriginal(frame.format));
  const [before, setBefore] = useState(false);
  const [busy, setBusy] = useState(false);
  const [word, setWord] = useState<{ text: string; bad: boolean } | null>(null);
  const all = { x: 0, y: 0, width: frame.width, height: frame.height };
  const kept = desk.sweeps.filter((s) => s.pick !== null && s.shown);
  const open = desk.sweeps.filter((s) => s.pick === null || !s.shown);

  const save = async () => {
    setBusy(true);
    setWord(null);
    try {
      const name = await saveDelivery(frame.id, format, revision);
      setWord({ text: `Saved as ${name}.`, bad: false });
    } catch (error) {
      setWord({ text: (error as Error).message, bad: true });
    } finally {
      setBusy(false);
    }
  };

  return (
    <Flex direction="column" h="100vh">
      <Flex
        as="header"
        align="center"
        gap="10px"
        px="14px"
        h="44px"
        borderBottom="1px solid"
        borderColor="line"
        flexShrink={0}
      >
        <Link to="/" aria-label="All shoots">
          <Mark />
        </Link>
        <Text color="soft">
          {desk.shoot} / <b style={{ color: "#1b1b1a" }}>{frame.name}</b>
        </Text>
        <Box flex="1" />
        <Link to={`/frames/${frame.id}`}>Back to the desk</Link>
      </Flex>
      <Flex flex="1" minH="0">
        <Flex flex="1" bg="#757575" p="14px" align="center" justify="center" minW="0">
          <Image
            src={cropUrl(frame.id, before ? { revision, shot: true } : { revision }, all, 1400)}
            alt={before ? "The picture as shot" : "The picture as it will be delivered"}
            maxW="100%"
            maxH="100%"
            objectFit="contain"
          />
        </Flex>
        <Box w="340px" p="18px" overflowY="auto" borderLeft="1px solid" borderColor="line">
          <Heading size="md" mb="10px">
            Deliver
          </Heading>
          <fieldset>
            <legend style={{ fontWeight: 700, marginBottom: 6 }}>Format</legend>
            {(["jpeg", "png", "tiff"] as Format[]).map((each) => (
              <Flex as="label" key={each} gap="8px" py="4px" align="baseline" cursor="pointer">
                <input
                  type="radio"
                  name="format"
                  value={each}
                  checked={format === each}
                  onChange={() => setFormat(each)}
                  style={{ accentColor: "#1b1b1a" }}
                />
                <span>
                  <b>{each.toUpperCase()}</b>
                  {each === frame.format ? ", like the original" : ""}
                  <Text as="span" display="block" color="soft" fontSize="13px">
                    {kind(each, frame.depth)}
                  </Text>
                </span>
              </Flex>
            ))}
          </fieldset>
          <Text mt="14px" color="soft">
            {frame.width} × {frame.height} px, with the colour profile, orientation and metadata of the
            original. Outside the masks no pixel is changed.
          </Text>
          <Heading size="sm" mt="18px" mb="4px">
            In it
          </Heading>
          <Sweeps
            text={kept.length ? "" : "No sweep is kept yet: this is the picture as shot."}
            list={kept}
          />
          {open.length > 0 && (
            <>
              <Heading size="sm" mt="12px" mb="4px">
                Not in it
              </Heading>
              <Sweeps text="" list={open} why />
            </>
          )}
          <Flex gap="8px" mt="22px">
            <Lead onClick={save} disabled={busy}>
              {busy ? "Writing the file…" : "Save the file"}
            </Lead>
            <Act
              pressed={before}
              onPointerDown={() => setBefore(true)}
              onPointerUp={() => setBefore(false)}
              onPointerLeave={() => setBefore(false)}
            >
              As shot
            </Act>
          </Flex>
          {word && (
            <Text
              role={word.bad ? "alert" : "status"}
              mt="12px"
              fontWeight={700}
              color={word.bad ? "alarm" : "ink"}
            >
              {word.text}
            </Text>
          )}
        </Box>
      </Flex>
    </Flex>
  );
}

/** What is written for an original of a format: the same if it can be written, else what holds no less. */
function likeOriginal(format: Desk["frame"]["format"]): Format {
  if (format === "jpeg" || format === "png" || format === "tiff") return format;
  return format === "webp" ? "png" : "tiff";
}

function kind(format: Format, depth: number): string {
  if (format === "jpeg")
    return depth === 16 ? "8 bit only: the 16 bit of the original are rounded" : "8 bit, quality 95";
  return `${depth} bit, packed without loss`;
}

function Sweeps({ list, text, why }: { list: Desk["sweeps"]; text: string; why?: boolean }) {
  return (
    <Box as="ul" listStyleType="none">
      {text && <Text color="soft">{text}</Text>}
      {list.map((sweep) => (
        <Flex as="li" key={sweep.id} gap="8px">
          <Text fontWeight={700} w="18px">
            {sweep.number}
          </Text>
          <Text>{sweep.name}</Text>
          {why && <Text color="soft">{sweep.shown ? "no take picked" : "switched off"}</Text>}
        </Flex>
      ))}
    </Box>
  );
}
