import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Model } from "../api/client";
import { askAgain, modelsKey } from "../api/queries";
import { Choice, Field, Lead } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { KINDS, PLACES } from "./kinds";

const NAMES = Object.keys(KINDS) as Model["kind"][];

/** A new model: what it is and where. */
export function RegisterForm() {
  const queries = useQueryClient();
  const register = useMutation({
    mutationFn: (body: Wanted) => ask(api.POST("/api/models", { body })),
    onSuccess: () => askAgain(queries, modelsKey),
  });
  return (
    <Box
      as="section"
      aria-label={words.models.registerModel}
      borderTop="1px solid"
      borderColor="line"
      pt="14px"
      mt="18px"
    >
      <Heading size="sm" mb="8px">
        {words.models.registerModel}
      </Heading>
      <NewModel busy={register.isPending} register={(wanted) => register.mutateAsync(wanted)} />
      {register.error && <Problem text={register.error.message} />}
      <Text color="soft" fontSize="13px" mt="8px" maxW="680px">
        {words.models.registerSays}
      </Text>
    </Box>
  );
}

type Wanted = Pick<Model, "kind" | "name" | "place">;

/** What is registered; it stays there to be mended if it is refused. */
function NewModel({ busy, register }: { busy: boolean; register: (wanted: Wanted) => Promise<unknown> }) {
  const [kind, setKind] = useState<Model["kind"]>("onnx");
  const [name, setName] = useState("");
  const [place, setPlace] = useState("");
  const empty = () => {
    setName("");
    setPlace("");
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        register({ kind, name, place }).then(empty, () => undefined);
      }}
    >
      <Flex gap="8px" align="center" wrap="wrap">
        <Choice
          label={words.models.kind}
          value={kind}
          among={NAMES}
          said={(each) => KINDS[each]}
          wide="210px"
          onChange={setKind}
        />
        <Field
          aria-label={words.models.nameOf}
          placeholder={words.models.name}
          w="170px"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Field
          aria-label={words.models.placeOf}
          placeholder={PLACES[kind]}
          flex="1"
          minW="240px"
          value={place}
          onChange={(event) => setPlace(event.target.value)}
        />
        <Lead type="submit" disabled={!name.trim() || !place.trim() || busy}>
          {words.models.register}
        </Lead>
      </Flex>
    </form>
  );
}
