import { Box, Flex, Heading, Input, Spacer, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { shootsKey, useShoots } from "../api/queries";
import { Act, Lead } from "../theme/controls";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
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
      folderOf(items) ?? `Pictures of ${new Date().toLocaleDateString([], { dateStyle: "long" })}`;
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
      <Masthead here="Shoots">
        <Spacer />
        {(shoots.data?.length ?? 0) > 0 && (
          <Input
            type="search"
            aria-label="Search"
            placeholder="Search pictures and shoots"
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
              aria-label="Name of the new shoot"
              placeholder="Name of a new shoot"
              value={name}
              onChange={(event) => setName(event.target.value)}
              size="xs"
              h="28px"
              w="230px"
              fontSize="14px"
              bg="sheet"
            />
            <Lead type="submit" disabled={!name.trim() || make.isPending}>
              Make shoot
            </Lead>
          </Flex>
        </form>
      </Masthead>
      <Box as="main" px="22px" py="18px" flex="1">
        {over && (
          <Text role="status" fontWeight={700} mb="10px">
            Let go over a shoot to add them there, or here to make a new one of them.
          </Text>
        )}
        {make.error && <Problem text={make.error.message} />}
        {shoots.error && (
          <Flex gap="3" align="center">
            <Problem text={shoots.error.message} />
            <Act onClick={() => shoots.refetch()}>Try again</Act>
          </Flex>
        )}
        {shoots.data?.length === 0 && (
          <Box maxW="520px" py="10">
            <Heading size="md">Nothing here yet</Heading>
            <Text color="soft" mt="2">
              A shoot holds the pictures of one job. Drop pictures or a folder anywhere in this window, or
              give a shoot a name above first: JPEG, PNG, TIFF, camera raw and more, 8 or 16 bit. Your files
              are copied and never changed.
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
