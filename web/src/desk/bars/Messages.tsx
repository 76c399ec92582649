import { Flex, Text } from "@chakra-ui/react";
import { Act } from "../../theme/controls";
import * as words from "../../words/words";
import { useStateOf } from "../state/state";

type Props = {
  /** Why the desk could not be fetched anew, and how it is tried again. */
  lost: Error | null;
  again: () => void;
  undo: () => void;
};

/** Under the picture: what went wrong, what was done, what was taken away; each until it is closed. */
export function Messages({ lost, again, undo }: Props) {
  const { problem, done, taken, set } = useStateOf("problem", "done", "taken", "set");
  return (
    <>
      {problem && <Word bad says={problem} close={() => set({ problem: null })} />}
      {!problem && lost && <Word bad says={lost.message} act={words.app.tryAgain} close={again} />}
      {done && <Word says={done} close={() => set({ done: null })} />}
      {taken && <Taken says={taken.says} back={taken.back ?? undo} act={taken.act ?? words.desk.bringBack} />}
    </>
  );
}

/** What was just taken away, or looks wrong, and how it is put right. */
function Taken({ says, back, act }: { says: string; back: () => void; act: string }) {
  const { set } = useStateOf("set");
  return (
    <Flex
      role="status"
      px="14px"
      py="5px"
      bg="raised"
      gap="3"
      align="center"
      borderTop="1px solid"
      borderColor="line"
    >
      <Text flex="1" overflowWrap="anywhere">
        {says}
      </Text>
      <Act
        onClick={() => {
          set({ taken: null });
          back();
        }}
      >
        {act}
      </Act>
      <Act onClick={() => set({ taken: null })}>{words.app.close}</Act>
    </Flex>
  );
}

type WordProps = { says: string; bad?: boolean; act?: string; close: () => void };

/** A sentence under the picture, until it is closed. */
function Word({ says, bad, act = words.app.close, close }: WordProps) {
  return (
    <Flex
      role={bad ? "alert" : "status"}
      px="14px"
      py="6px"
      bg={bad ? "alarmed" : "raised"}
      gap="3"
      align="center"
      borderTop="1px solid"
      borderColor={bad ? "alarm" : "ink"}
    >
      <Text color={bad ? "alarm" : "ink"} fontWeight={700} flex="1" overflowWrap="anywhere">
        {says}
      </Text>
      <Act onClick={close}>{act}</Act>
    </Flex>
  );
}
