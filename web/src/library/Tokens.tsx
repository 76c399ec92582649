import { Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Token } from "../api/client";
import { askAgain } from "../api/queries";
import { Act, Choice, Field, Minor } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { ShownOnce } from "./ShownOnce";

const tokensKey = ["tokens"] as const;
const SCOPES: Token["scope"][] = ["read", "edit", "spend"];
const MEANT: Record<Token["scope"], string> = {
  read: words.library.read,
  edit: words.library.edit,
  spend: words.library.spend,
};

/** What scripts say to be let in: made here, shown once, revoked here. */
export function Tokens() {
  const queries = useQueryClient();
  const tokens = useQuery({
    queryKey: tokensKey,
    queryFn: () => ask(api.GET("/api/tokens")),
    staleTime: 0,
  });
  const onSettled = () => askAgain(queries, tokensKey);
  const make = useMutation({
    mutationFn: (wanted: Wanted) => ask(api.POST("/api/tokens", { body: wanted })),
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
        {words.library.tokens}
      </Heading>
      <Text color="soft" mt="4px" mb="10px" maxW="680px">
        {words.library.tokensSay}
      </Text>
      {wrong && <Problem text={wrong.message} />}
      {tokens.data?.map((token) => (
        <Line key={token.id} token={token} revoke={() => revoke.mutate(token.id)} />
      ))}
      <NewToken busy={make.isPending} make={(wanted) => make.mutateAsync(wanted)} />
      {make.data && <ShownOnce says={words.library.letInBy(make.data.name)} secret={make.data.words} />}
    </section>
  );
}

type Wanted = Pick<Token, "name" | "scope">;

/** What a new token is for, and how far it reaches; both stay there when it is refused. */
function NewToken({ busy, make }: { busy: boolean; make: (wanted: Wanted) => Promise<unknown> }) {
  const [name, setName] = useState("");
  const [scope, setScope] = useState<Token["scope"]>("read");
  const made = () =>
    make({ name, scope }).then(
      () => setName(""),
      () => undefined,
    );
  return (
    <Flex
      as="form"
      gap="8px"
      mt="8px"
      align="center"
      wrap="wrap"
      onSubmit={(event) => event.preventDefault()}
    >
      <Field
        w="220px"
        aria-label={words.library.tokenFor}
        placeholder={words.library.whatItIsFor}
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Choice
        label={words.library.scope}
        value={scope}
        among={SCOPES}
        said={(each) => words.named.scope[each]}
        wide="96px"
        onChange={setScope}
      />
      <Act disabled={!name.trim() || busy} onClick={made}>
        {words.library.makeAToken}
      </Act>
      <Text color="soft" fontSize="13px">
        {MEANT[scope]}
      </Text>
    </Flex>
  );
}

/** A token that lets somebody in. */
function Line({ token, revoke }: { token: Token; revoke: () => void }) {
  const used = token.used_at
    ? words.library.used(new Date(token.used_at).toLocaleDateString())
    : words.library.neverUsed;
  return (
    <Flex gap="10px" align="center" py="3px" maxW="680px" borderBottom="1px solid" borderColor="line">
      <Text flex="1" fontWeight={700}>
        {token.name}
      </Text>
      <Text color="soft">
        {token.scope} · {used}
      </Text>
      <Minor aria-label={words.library.revoke(token.name)} onClick={revoke}>
        {words.library.revokeIt}
      </Minor>
    </Flex>
  );
}
