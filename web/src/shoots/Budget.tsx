import { Flex, Input, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { api, ask, type Shoot } from "../api/client";
import { useModels } from "../api/queries";
import { tipped } from "../theme/tip";
import * as words from "../words/words";

/** What services may cost for a shoot, and have; only where there is a service. */
export function Budget({ shoot }: { shoot: Shoot }) {
  const models = useModels();
  const known = shoot.budget === null ? "" : String(shoot.budget);
  const [text, setText] = useState(known);
  useEffect(() => setText(known), [known]);
  if (!shoot.spent && !models.data?.some((each) => each.kind === "service")) return null;
  const keep = () => {
    const credits = text.trim() === "" ? null : Number.parseFloat(text.replace(",", "."));
    if (credits !== null && !(credits >= 0)) return setText(known);
    if (credits === shoot.budget) return;
    ask(
      api.PUT("/api/shoots/{shoot_id}/budget", {
        params: { path: { shoot_id: shoot.id } },
        body: { credits },
      }),
    ).catch(() => setText(known));
  };
  return (
    <Flex as="label" align="center" gap="6px" {...tipped(words.shoots.budgetTip)}>
      <Text color="soft">{words.shoots.budget}</Text>
      <Input
        size="xs"
        h="26px"
        w="64px"
        px="5px"
        textAlign="right"
        bg="raised"
        borderColor="line"
        inputMode="decimal"
        aria-label={words.shoots.budgetOf(shoot.name)}
        placeholder={words.shoots.noLimit}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <Text color="soft">{words.shoots.creditsSpent(+shoot.spent.toFixed(2))}</Text>
    </Flex>
  );
}
