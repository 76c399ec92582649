import { Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Notice } from "../api/client";
import { askAgain } from "../api/queries";
import { Act, Field, Minor } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { ShownOnce } from "./ShownOnce";

const noticesKey = ["notices"] as const;
const TOLD: Record<Notice["kind"], string> = {
  "fill.done": words.library.fillDone,
  "run.failed": words.library.runFailed,
  "delivery.done": words.library.deliveryDone,
  tried: words.library.tried,
};
// So many are listed; the others are there for scripts.
const SHOWN = 5;
// While one waits to arrive, milliseconds.
const LOOK_AGAIN = 1_000;

/** Where another program is told what is done, and whether it heard. */
export function Notices() {
  const queries = useQueryClient();
  const notices = useQuery({
    queryKey: noticesKey,
    queryFn: () => ask(api.GET("/api/notices")),
    staleTime: 0,
    refetchInterval: ({ state }) => state.data?.newest.some((each) => each.due_at) && LOOK_AGAIN,
  });
  const [address, setAddress] = useState("");
  const onSettled = () => askAgain(queries, noticesKey);
  const send = useMutation({
    mutationFn: () => ask(api.PUT("/api/notices", { body: { address } })),
    onSuccess: () => setAddress(""),
    onSettled,
  });
  const stop = useMutation({
    mutationFn: () => ask(api.DELETE("/api/notices")),
    onSuccess: () => send.reset(),
    onSettled,
  });
  const attempt = useMutation({ mutationFn: () => ask(api.POST("/api/notices/try")), onSettled });
  const there = notices.data?.address;
  const busy = stop.isPending || attempt.isPending;
  const wrong = notices.error ?? send.error ?? stop.error ?? attempt.error;
  return (
    <section aria-labelledby="notices">
      <Heading size="sm" mt="28px" id="notices">
        {words.library.notices}
      </Heading>
      <Text color="soft" mt="4px" mb="10px" maxW="680px">
        {words.library.noticesSay}
      </Text>
      {wrong && <Problem text={wrong.message} />}
      {there && <Told address={there} busy={busy} attempt={attempt.mutate} stop={stop.mutate} />}
      <Flex as="form" gap="8px" mt="8px" align="center" onSubmit={(event) => event.preventDefault()}>
        <Field
          w="330px"
          type="url"
          aria-label={words.library.address}
          placeholder={words.library.addressLike}
          maxLength={500}
          value={address}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Act disabled={!address.trim() || send.isPending} onClick={() => send.mutate()}>
          {there ? words.library.tellInstead : words.library.tell}
        </Act>
      </Flex>
      {send.data && <ShownOnce says={words.library.signedWith} secret={send.data.secret} />}
      {there && notices.data?.newest.slice(0, SHOWN).map((each) => <Line key={each.id} notice={each} />)}
    </section>
  );
}

type ToldProps = { address: string; busy: boolean; attempt: () => void; stop: () => void };

/** Who is told. */
function Told({ address, busy, attempt, stop }: ToldProps) {
  return (
    <Flex gap="10px" align="center" py="3px" maxW="680px">
      <Text flex="1" fontWeight={700} wordBreak="break-all">
        {address}
      </Text>
      <Minor disabled={busy} onClick={() => attempt()}>
        {words.library.tryIt}
      </Minor>
      <Minor disabled={busy} onClick={() => stop()}>
        {words.library.tellNobody}
      </Minor>
    </Flex>
  );
}

/** A notice, and whether it arrived. */
function Line({ notice }: { notice: Notice }) {
  return (
    <Flex gap="10px" py="3px" maxW="680px" borderBottom="1px solid" borderColor="line">
      <Text w="170px">{TOLD[notice.kind]}</Text>
      <Text color="soft" flex="1">
        {new Date(notice.made_at).toLocaleString()} · {fate(notice)}
      </Text>
    </Flex>
  );
}

function fate(notice: Notice): string {
  if (notice.sent_at) return words.library.arrived;

  if (!notice.due_at) return words.library.givenUp(notice.answer);
  return notice.attempts
    ? words.library.triedAgain(new Date(notice.due_at).toLocaleTimeString(), notice.answer)
    : words.library.onItsWay;
}
