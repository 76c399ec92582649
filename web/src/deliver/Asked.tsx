import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { useParams, useSearchParams } from "react-router";
import type { Frame, Shoot } from "../api/client";
import { useShoots } from "../api/queries";
import * as words from "../words/words";

/** The frames of one shoot that a page's address asks for: one by its path, or some by a list. */
export function Asked({ show }: { show: (shoot: Shoot, frames: [Frame, ...Frame[]]) => ReactNode }) {
  const one = useParams().frameId;
  const [asked] = useSearchParams();
  const wanted = one ? [Number(one)] : (asked.get("frames") ?? "").split(",").map(Number);
  const shoots = useShoots();
  if (shoots.error) return <Text p="30px">{shoots.error.message}</Text>;
  if (!shoots.data) return <Box p="30px">{words.app.oneMoment}</Box>;
  const shoot = shoots.data.find((each) => each.frames.some((frame) => wanted.includes(frame.id)));
  const [first, ...more] = shoot?.frames.filter((frame) => wanted.includes(frame.id)) ?? [];
  if (!shoot || !first) return <Text p="30px">{words.deliver.notThere}</Text>;
  return show(shoot, [first, ...more]);
}
