import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useDebouncedCallback } from "use-debounce";
import { api, ask, type Desk, type Knobs, type Sweep } from "../../api/client";
import { useModels } from "../../api/queries";
import { Amount, Choice } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { inCredits, inTime } from "../reading/ledger";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";

const NONE = "";
type Props = { sweep: Sweep; desk: Desk; actions: Actions };

/** Which model fills the sweep, how it is set, and what a fill costs; for auto only that a model may be asked. */
export function ModelOptions({ sweep, desk, actions }: Props) {
  const models = useModels();
  if (sweep.method === "auto" && !models.data?.some((each) => each.for_auto)) return null;
  if (sweep.method !== "model" && sweep.method !== "auto") return null;
  if (sweep.method === "auto") return <Price sweep={sweep} desk={desk} />;
  const named = models.data?.find((each) => each.id === sweep.model);
  return (
    <Box>
      <Flex align="center" justify="space-between" mt="5px">
        <Text>{words.sheets.model}</Text>
        {models.data?.length ? (
          <Choice
            label={words.sheets.model}
            value={named ? String(named.id) : NONE}
            among={[...(named ? [] : [NONE]), ...models.data.map((each) => String(each.id))]}
            said={(each) =>
              models.data.find((one) => String(one.id) === each)?.name ?? words.sheets.chooseModel
            }
            wide="130px"
            disabled={isBusy(sweep)}
            onChange={(each) => each !== NONE && actions.change(sweep, { model: Number(each) })}
          />
        ) : (
          <Link to="/models">
            <Text as="span" textDecoration="underline">
              {words.sheets.registerOne}
            </Text>
          </Link>
        )}
      </Flex>
      {named && <Price sweep={sweep} desk={desk} />}
      {named && <Settings sweep={sweep} actions={actions} />}
    </Box>
  );
}

/** What as many takes as usual come to, and what is left after; asked again when something changes. */
function Price({ sweep, desk }: Omit<Props, "actions">) {
  const busy = isBusy(sweep);
  const { takes } = useStateOf("takes");
  const quote = useQuery({
    queryKey: ["quote", desk.frame.id, sweep.id, desk.revision, sweep.takes.length, sweep.run?.state, takes],
    enabled: !busy && sweep.shapes > 0,
    staleTime: 10_000,
    queryFn: () =>
      ask(
        api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/quote", {
          params: { path: { frame_id: desk.frame.id, sweep_id: sweep.id }, query: { takes } },
        }),
      ),
  });
  const told = quote.data;
  if (!told?.model && !told?.problem) return null;
  return (
    <Text
      mt="4px"
      lineHeight="1.25"
      color={told.problem ? "alarm" : "soft"}
      data-testid="price"
      {...tipped(told.why)}
    >
      {told.problem ?? (
        <>
          {sweep.method === "auto" && words.sheets.by(told.model)}
          {words.sheets.takesCost(
            takes,
            told.service ? inCredits(told.credits) : words.sheets.noCost,
            told.seconds === null ? "" : inTime(told.seconds),
          )}{" "}
          {told.left !== null && words.sheets.left(+told.left.toFixed(2))}
        </>
      )}
    </Text>
  );
}

const REST = 500;

/** Steps, guidance, strength: kept once they rest. */
function Settings({ sweep, actions }: Pick<Props, "sweep" | "actions">) {
  const [knobs, setKnobs] = useState<Knobs>(sweep.knobs as Knobs);
  useEffect(() => setKnobs(sweep.knobs as Knobs), [sweep.knobs]);
  const keep = useDebouncedCallback((next: Knobs) => actions.change(sweep, { knobs: next }), REST);
  // What was set last is kept even if another sweep is chosen at once.
  useEffect(() => () => void keep.flush(), [keep]);
  const set = (change: Partial<Knobs>) => {
    const next = { ...knobs, ...change };
    setKnobs(next);
    keep(next);
  };
  return (
    <Box as="details" mt="4px">
      <Text as="summary" cursor="pointer" color="soft">
        {words.sheets.settings}
      </Text>
      <Box display="grid" gap="4px" mt="4px" justifyItems="end">
        <Amount
          label={words.sheets.steps}
          value={knobs.steps}
          least={1}
          most={150}
          step={1}
          tip={words.sheets.stepsTip}
          onChange={(steps) => set({ steps })}
        />
        <Amount
          label={words.sheets.guidance}
          value={knobs.guidance}
          least={0}
          most={30}
          step={0.5}
          tip={words.sheets.guidanceTip}
          onChange={(guidance) => set({ guidance })}
        />
        <Amount
          label={words.sheets.strength}
          value={knobs.strength}
          least={0.05}
          most={1}
          step={0.05}
          tip={words.sheets.strengthTip}
          onChange={(strength) => set({ strength })}
        />
        <Text color="soft">{words.sheets.strengthRange}</Text>
      </Box>
    </Box>
  );
}
