import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Model } from "../api/client";
import { modelsKey } from "../api/queries";
import { Choice, Lead } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { KINDS, PLACES } from "./kinds";

const NAMES = Object.keys(KINDS) as Model["kind"][];

/** A new model: what it is and where. */
export function RegisterForm() {
  const queries = useQueryClient();
  const [kind, setKind] = useState<Model["kind"]>("onnx");
  const [name, setName] = useState("");
  const [place, setPlace] = useState("");
  const register = useMutation({
    mutationFn: () => ask(api.POST("/api/models", { body: { kind, name, place } })),
    onSuccess: () => {
      setName("");
      setPlace("");
      queries.invalidateQueries({ queryKey: modelsKey });
    },
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
      <form
        onSubmit={(event) => {
          event.preventDefault();
          register.mutate();
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
          <Input
            aria-label={words.models.nameOf}
            placeholder={words.models.name}
            size="xs"
            h="28px"
            w="170px"
            bg="sheet"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Input
            aria-label={words.models.placeOf}
            placeholder={PLACES[kind]}
            size="xs"
            h="28px"
            flex="1"
            minW="240px"
            bg="sheet"
            value={place}
            onChange={(event) => setPlace(event.target.value)}
          />
          <Lead type="submit" disabled={!name.trim() || !place.trim() || register.isPending}>
            {words.models.register}
          </Lead>
        </Flex>
      </form>
      {register.error && <Problem text={register.error.message} />}
      <Text color="soft" fontSize="13px" mt="8px" maxW="680px">
        {words.models.registerSays}
      </Text>
    </Box>
  );
}
