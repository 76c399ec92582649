import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Model } from "../api/client";
import { askAgain, modelsKey } from "../api/queries";
import { inCredits } from "../desk/reading/ledger";
import { Act, Amount, Field, Tick } from "../theme/controls";
import * as words from "../words/words";
import { KINDS } from "./kinds";

/** One model: where it is, its limits, its key, and what came back when it was tried. */
export function ModelCard({ model }: { model: Model }) {
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const path = { params: { path: { model_id: model.id } } };
  const doing = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setWrong(null);
    try {
      await work();
    } catch (error) {
      setWrong((error as Error).message);
    } finally {
      setBusy(false);
      askAgain(queries, modelsKey);
    }
  };
  return (
    <Box
      as="section"
      aria-label={model.name}
      bg="sheet"
      border="1px solid"
      borderColor="line"
      borderRadius="4px"
      p="12px"
      mb="12px"
    >
      <Flex align="baseline" gap="10px">
        <Text fontWeight={700} fontSize="16px">
          {model.name}
        </Text>
        <Text color="soft">{KINDS[model.kind]}</Text>
        <Box flex="1" />
        {model.left !== null && <Text>{words.models.left(inCredits(model.left))}</Text>}
        <Act disabled={busy} onClick={() => doing(() => ask(api.DELETE("/api/models/{model_id}", path)))}>
          {words.models.forget}
        </Act>
      </Flex>
      <Text color="soft" fontSize="13px" mb="8px" wordBreak="break-all">
        {model.place}
      </Text>
      <Limits model={model} busy={busy} doing={doing} />
      <Trial model={model} busy={busy} doing={doing} />
      {wrong && (
        <Text role="alert" color="alarm" fontWeight={700} mt="6px">
          {wrong}
        </Text>
      )}
    </Box>
  );
}

type PartProps = { model: Model; busy: boolean; doing: (work: () => Promise<unknown>) => Promise<void> };

/** Trying it, and what came back. */
function Trial({ model, busy, doing }: PartProps) {
  const service = model.kind === "service";
  const test = (fill: boolean) =>
    doing(() =>
      ask(
        api.POST("/api/models/{model_id}/try", {
          params: { path: { model_id: model.id }, query: { fill } },
        }),
      ),
    );
  return (
    <Flex mt="10px" gap="8px" align="center">
      <Act disabled={busy} onClick={() => test(false)}>
        {busy ? words.app.oneMoment : service ? words.models.testNoCost : words.models.test}
      </Act>
      {service && (
        <Act disabled={busy} tip={words.models.testWithAFillTip} onClick={() => test(true)}>
          {words.models.testWithAFill}
        </Act>
      )}
      {model.trial && (
        <Text
          role="status"
          color={model.trial_good ? "ink" : "alarm"}
          fontWeight={model.trial_good ? 400 : 700}
        >
          {model.trial_good ? "✓" : "✕"} {model.trial}
        </Text>
      )}
    </Flex>
  );
}

/** How much may be shown to it and may be paid, whether it is asked without being named, and its key. */
function Limits({ model, busy, doing }: PartProps) {
  const change = (body: { largest?: number; most_credits?: number; for_auto?: boolean; place?: string }) =>
    doing(() => ask(api.PATCH("/api/models/{model_id}", { params: { path: { model_id: model.id } }, body })));
  const service = model.kind === "service";
  return (
    <Grid templateColumns="1fr 1fr" gap="8px 24px" alignItems="center">
      <Amount
        label={words.models.longestSide}
        unit={words.units.px}
        value={model.largest ?? 0}
        least={0}
        most={8192}
        step={64}
        tip={words.models.longestSideTip}
        onChange={(largest) => change({ largest })}
      />
      {service && (
        <Amount
          label={words.models.most}
          unit={words.models.mostUnit}
          value={model.most_credits ?? 0}
          least={0}
          most={100_000}
          step={1}
          tip={words.models.mostTip}
          onChange={(most_credits) => change({ most_credits })}
        />
      )}
      <Flex as="label" gap="6px" align="center">
        <Tick checked={model.for_auto} disabled={busy} onChange={(for_auto) => change({ for_auto })} />
        {words.models.autoMayChoose}
        {service && words.models.afterYourYes}
      </Flex>
      {service && <KeyField model={model} busy={busy} doing={doing} />}
    </Grid>
  );
}

/** The key goes in and is never shown again. */
function KeyField({ model, busy, doing }: PartProps) {
  const [key, setKey] = useState("");
  const keep = () => {
    const sent = key;
    setKey("");
    doing(() =>
      ask(
        api.PUT("/api/models/{model_id}/key", {
          params: { path: { model_id: model.id } },
          body: { key: sent },
        }),
      ),
    );
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <Flex gap="6px" align="center">
        <Text whiteSpace="nowrap">{words.models.key}</Text>
        <Field
          type="password"
          bg="raised"
          autoComplete="off"
          aria-label={words.models.keyOf(model.name)}
          placeholder={model.has_key ? words.models.keyKept : words.models.noKey}
          value={key}
          onChange={(event) => setKey(event.target.value)}
        />
        <Act type="submit" disabled={busy || !key.trim()}>
          {words.models.keep}
        </Act>
        {model.has_key && (
          <Act disabled={busy} onClick={keep} tip={words.models.forgetKeyTip}>
            {words.models.forgetKey}
          </Act>
        )}
      </Flex>
    </form>
  );
}
