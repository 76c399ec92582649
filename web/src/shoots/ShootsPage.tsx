import { Box, Flex, Heading, Input, Spacer, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { shootsKey, useShoots } from "../api/queries";
import { Act, Lead } from "../theme/controls";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
import { words } from "../words/words";
import { dropped, folderOf } from "./files";
import { GoneList } from "./GoneList";
import { ShootSection } from "./ShootSection";

/** All shoots: make one, drop pictures into it, open a picture on the desk. */
export function ShootsPage() {
  const shoots = useShoots();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [sought, setSought] = useState("");
  const make = useMutation({
    mutationFn: (wanted: string) => ask(api.POST("/api/shoots", { body: { name: wanted } })),
    onSuccess: () => {
      setName("");
      queries.invalidateQueries({ queryKey: shootsKey });
    },
  });
  const submit = () => name.trim() && make.mutate(name);
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
        {(shoots.data?.length ?? 0) > 0 && (
          <Input
            type="search"
            aria-label={words.shoots.search}
            placeholder={words.shoots.searchPicturesAndShoots}
            value={sought}
            onChange={(event) => setSought(event.target.value)}
            size="xs"
            h="28px"
            w="200px"
            fontSize="14px"
            bg="sheet"
          />
        )}
        <form
          onSubmit={(event) => {
            event.preventDefault();
            submit();
          }}
        >
          <Flex gap="2" align="center">
            <Input
              aria-label={words.shoots.newShoot}
              placeholder={words.shoots.newShootName}
              value={name}
              onChange={(event) => setName(event.target.value)}
              size="xs"
              h="28px"
              w="230px"
              fontSize="14px"
              bg="sheet"
            />
            <Lead type="submit" disabled={!name.trim() || make.isPending}>
              {words.shoots.makeShoot}
            </Lead>
          </Flex>
        </form>
      </Masthead>
      <Box as="main" px="22px" py="18px" flex="1">
        {over && (
          <Text role="status" fontWeight={700} mb="10px">
            {words.shoots.letGoOver}
          </Text>
        )}
        {make.error && <Problem text={make.error.message} />}
        {shoots.error && (
          <Flex gap="3" align="center">
            <Problem text={shoots.error.message} />
            <Act onClick={() => shoots.refetch()}>{words.app.tryAgain}</Act>
          </Flex>
        )}
        {shoots.data?.length === 0 && (
          <Box maxW="520px" py="10">
            <Heading size="md">{words.shoots.nothingYet}</Heading>
            <Text color="soft" mt="2">
              {words.shoots.shootsSay}
            </Text>
          </Box>
        )}
        {shoots.data?.map((shoot) => (
          <ShootSection
            key={shoot.id}
            shoot={shoot}
            sought={sought}
            incoming={incoming?.shoot === shoot.id ? incoming.files : undefined}
          />
        ))}
        <GoneList />
      </Box>
    </Flex>
  );
}
