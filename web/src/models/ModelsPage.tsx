import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useModels } from "../api/queries";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { ModelCard } from "./ModelCard";
import { RegisterForm } from "./RegisterForm";

/** Generative models: which there are, what they may cost, whether they work. */
export function ModelsPage() {
  const models = useModels();
  return (
    <Flex direction="column" minH="100%">
      <Masthead here="models" />
      <Box as="main" px="22px" py="18px" maxW="920px" w="100%">
        <Heading size="md">{words.models.generativeModels}</Heading>
        <Text color="soft" mt="4px" mb="14px" maxW="680px">
          {words.models.modelsSay}
        </Text>
        {models.error && <Problem text={models.error.message} />}
        {models.data?.map((model) => (
          <ModelCard key={model.id} model={model} />
        ))}
        {!models.isPending && <RegisterForm />}
      </Box>
    </Flex>
  );
}
