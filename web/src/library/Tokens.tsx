import { Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Token } from "../api/client";
import { Act, Choice, Minor } from "../theme/controls";
import { Problem } from "../theme/Problem";
import { ShownOnce } from "./ShownOnce";

const tokensKey = ["tokens"] as const;
const SCOPES: Token["scope"][] = ["read", "edit", "spend"];
const MEANT: Record<Token["scope"], string> = {
  read: "looks, and changes nothing",
  edit: "looks and edits, but agrees to no price",
  spend: "does everything but make tokens",
};

/** What scripts say to be let in: made here, shown once, revoked here. */
export function Tokens() {
  const queries = useQueryClient();
  const tokens = useQuery({
    queryKey: tokensKey,
    queryFn: () => ask(api.GET("/api/tokens")),
    staleTime: 0,
  });
  const [name, setName] = useState("");
  const [scope, setScope] = useState<Token["scope"]>("read");
  const onSettled = () => queries.invalidateQueries({ queryKey: tokensKey });
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/tokens", { body: { name, scope } })),
    onSuccess: () => setName(""),
    onSettled,
  });
  const revoke = useMutation({
    mutationFn: (id: number) =>
      ask(api.DELETE("/api/tokens/{token_id}", { params: { path: { token_id: id } } })),
    onSettled,
  });
  const wrong = tokens.error ?? make.error ?? revoke.error;
  return (
    <section aria-labelledby="tokens">
      <Heading size="sm" mt="28px" id="tokens">
        Tokens for scripts
      </Heading>
      <Text color="soft" mt="4px" mb="10px" maxW="680px">
        A script that talks to this server says a token instead of the passphrase. It is shown once, when it
        is made; only a digest of it is kept.
      </Text>
      {wrong && <Problem text={wrong.message} />}
      {tokens.data?.map((token) => (
        <Line key={token.id} token={token} revoke={() => revoke.mutate(token.id)} />
      ))}
      <Flex
        as="form"
        gap="8px"
        mt="8px"
        align="center"
        wrap="wrap"
        onSubmit={(event) => event.preventDefault()}
      >
        <Input
          size="xs"
          h="26px"
          w="220px"
          bg="sheet"
          aria-label="What the token is for"
          placeholder="What it is for"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Choice label="Scope" value={scope} among={SCOPES} wide="96px" onChange={setScope} />
        <Act disabled={!name.trim() || make.isPending} onClick={() => make.mutate()}>
          Make a token
        </Act>
        <Text color="soft" fontSize="13px">
          {MEANT[scope]}
        </Text>
      </Flex>
      {make.data && <ShownOnce says={`${make.data.name} is let in by this.`} words={make.data.words} />}
    </section>
  );
}

/** A token that lets somebody in. */
function Line({ token, revoke }: { token: Token; revoke: () => void }) {
  const used = token.used_at ? `used ${new Date(token.used_at).toLocaleDateString()}` : "never used";
  return (
    <Flex gap="10px" align="center" py="3px" maxW="680px" borderBottom="1px solid" borderColor="line">
      <Text flex="1" fontWeight={700}>
        {token.name}
      </Text>
      <Text color="soft">
        {token.scope} · {used}
      </Text>
      <Minor aria-label={`Revoke ${token.name}`} onClick={revoke}>
        Revoke
      </Minor>
    </Flex>
  );
}
