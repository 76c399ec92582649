import { Box, Flex, Heading, Spacer, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { askAgain, shootsKey, useShoots } from "../api/queries";
import { Act, Field, Lead } from "../theme/controls";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { dropped, folderOf } from "./files";
import { GoneList } from "./GoneList";
import { ShootSection } from "./ShootSection";

/** All shoots: make one, drop pictures into it, open a picture on the desk. */
export function ShootsPage() {
  const shoots = useShoots();
  const queries = useQueryClient();
  const [sought, setSought] = useState("");
  const make = useMutation({
    mutationFn: (wanted: string) => ask(api.POST("/api/shoots", { body: { name: wanted } })),
    onSuccess: () => void askAgain(queries, shootsKey),
  });
  const [over, setOver] = useState(false);
  const [incoming, setIncoming] = useState<{ shoot: number; files: File[] } | null>(null);
  /** What is dropped beside the shoots becomes a new one, named like its folder. */
  const drop = async (event: React.DragEvent) => {
    event.preventDefault();
    setOver(false);
    const { items } = event.dataTransfer;
    const named =
      folderOf(items) ?? words.shoots.picturesOf(new Date().toLocaleDateString([], { dateStyle: "long" }));
    const files = await dropped(items);
    if (!files.length) return;
    const made = await make.mutateAsync(named);
    setIncoming({ shoot: made.id, files });
  };
  return (
    <Flex
      direction="column"
      minH="100%"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Masthead here="shoots">
        <Spacer />
        {(shoots.data?.length ?? 0) > 0 && <Search sought={sought} setSought={setSought} />}
        <NewShoot busy={make.isPending} make={(name) => make.mutateAsync(name)} />
      </Masthead>
      <Box as="main" px="22px" py="18px" flex="1">
        {over && (
          <Text role="status" fontWeight={700} mb="10px">
            {words.shoots.letGoOver}
          </Text>
        )}
        {make.error && <Problem text={make.error.message} />}
        {shoots.error && <NotThere why={shoots.error.message} again={() => shoots.refetch()} />}
        {shoots.data?.length === 0 && <NothingYet />}
        {shoots.data?.map((shoot) => (
          <ShootSection
            key={shoot.id}
            shoot={shoot}
            sought={sought}
            incoming={incoming?.shoot === shoot.id ? incoming.files : undefined}
          />
        ))}
        {!shoots.isPending && <GoneList />}
      </Box>
    </Flex>
  );
}

function NotThere({ why, again }: { why: string; again: () => void }) {
  return (
    <Flex gap="3" align="center">
      <Problem text={why} />
      <Act onClick={again}>{words.app.tryAgain}</Act>
    </Flex>
  );
}

function NothingYet() {
  return (
    <Box maxW="520px" py="10">
      <Heading size="md">{words.shoots.nothingYet}</Heading>
      <Text color="soft" mt="2">
        {words.shoots.shootsSay}
      </Text>
    </Box>
  );
}

function Search({ sought, setSought }: { sought: string; setSought: (sought: string) => void }) {
  return (
    <Field
      type="search"
      aria-label={words.shoots.search}
      placeholder={words.shoots.searchPicturesAndShoots}
      value={sought}
      onChange={(event) => setSought(event.target.value)}
      w="200px"
    />
  );
}

/** The name of a new shoot; it stays there to be mended if it is refused. */
function NewShoot({ busy, make }: { busy: boolean; make: (name: string) => Promise<unknown> }) {
  const [name, setName] = useState("");
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim()) return;
        make(name).then(
          () => setName(""),
          () => undefined,
        );
      }}
    >
      <Flex gap="2" align="center">
        <Field
          aria-label={words.shoots.newShoot}
          placeholder={words.shoots.newShootName}
          value={name}
          onChange={(event) => setName(event.target.value)}
          w="230px"
        />
        <Lead type="submit" disabled={!name.trim() || busy}>
          {words.shoots.makeShoot}
        </Lead>
      </Flex>
    </form>
  );
}
