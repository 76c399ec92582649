import { Flex, Heading } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Shoot } from "../api/client";
import { askAgain, goneKey, shootsKey } from "../api/queries";
import { Act, Field, Small } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";

/** A shoot's name, which can be changed; and the shoot deleted, after a second click. */
export function ShootName({ shoot }: { shoot: Shoot }) {
  const queries = useQueryClient();
  const [naming, setNaming] = useState(false);
  const [sure, setSure] = useState(false);
  const [problem, setProblem] = useState("");
  const path = { shoot_id: shoot.id };
  const work = (what: Promise<unknown>) =>
    what
      .then(() => {
        setProblem("");
        void askAgain(queries, goneKey);
        return askAgain(queries, shootsKey);
      })
      .catch((error: Error) => setProblem(error.message));
  const rename = (name: string) => {
    setNaming(false);
    if (name.trim() && name !== shoot.name)
      void work(ask(api.PATCH("/api/shoots/{shoot_id}", { params: { path }, body: { name } })));
  };
  const remove = () => void work(ask(api.DELETE("/api/shoots/{shoot_id}", { params: { path } })));
  return (
    <Flex align="baseline" gap="8px" minW="0">
      {naming ? (
        <Named name={shoot.name} rename={rename} keep={() => setNaming(false)} />
      ) : (
        <Heading size="md" truncate data-tip={shoot.name}>
          {shoot.name}
        </Heading>
      )}
      {sure ? (
        <>
          <Act onClick={remove} tip={words.shoots.deleteItTip}>
            {words.shoots.deleteIt(shoot.frames.length)}
          </Act>
          <Small onClick={() => setSure(false)}>{words.shoots.keepIt}</Small>
        </>
      ) : (
        <>
          <Small onClick={() => setNaming(true)} tip={words.shoots.renameTip}>
            {words.shoots.rename}
          </Small>
          <Small onClick={() => setSure(true)} tip={words.shoots.deleteTip}>
            {words.shoots.delete}
          </Small>
        </>
      )}
      {problem && <Problem text={problem} />}
    </Flex>
  );
}

type NamedProps = { name: string; rename: (name: string) => void; keep: () => void };

function Named({ name, rename, keep }: NamedProps) {
  return (
    <Field
      autoFocus
      aria-label={words.shoots.nameOfTheShoot}
      w="260px"
      fontSize="16px"
      bg="raised"
      defaultValue={name}
      maxLength={200}
      onBlur={(event) => rename(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") keep();
      }}
    />
  );
}
