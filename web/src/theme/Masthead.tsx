import { Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import * as words from "../words/words";
import { Mark } from "./Mark";

const PLACES = { shoots: "/", models: "/models", library: "/library" } as const;
type Place = keyof typeof PLACES;

/** The head of the pages that are about no picture: which of them this is, and what only it has. */
export function Masthead({ here, children }: { here: Place; children?: ReactNode }) {
  return (
    <Flex as="header" align="center" gap="3" px="14px" h="44px" borderBottom="1px solid" borderColor="line">
      <Mark />
      <Text fontWeight={700} fontSize="16px" whiteSpace="nowrap">
        {words.app.name}
      </Text>
      {(Object.entries(PLACES) as [Place, string][]).map(([name, to]) =>
        name === here ? (
          <Text key={name} color="soft" aria-current="page">
            {words.app.places[name]}
          </Text>
        ) : (
          <Link key={name} to={to}>
            <Text textDecoration="underline" textUnderlineOffset="2px">
              {words.app.places[name]}
            </Text>
          </Link>
        ),
      )}
      {children}
    </Flex>
  );
}
