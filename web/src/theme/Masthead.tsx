import { Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { Mark } from "./Mark";

const PLACES = { Shoots: "/", Models: "/models", Library: "/library" } as const;

/** The head of the pages that are about no picture: which of them this is, and what only it has. */
export function Masthead({ here, children }: { here: keyof typeof PLACES; children?: ReactNode }) {
  return (
    <Flex as="header" align="center" gap="3" px="14px" h="44px" borderBottom="1px solid" borderColor="line">
      <Mark />
      <Text fontWeight={700} fontSize="16px" whiteSpace="nowrap">
        Keen Sweep
      </Text>
      {Object.entries(PLACES).map(([name, to]) =>
        name === here ? (
          <Text key={name} color="soft" aria-current="page">
            {name}
          </Text>
        ) : (
          <Link key={name} to={to}>
            <Text textDecoration="underline" textUnderlineOffset="2px">
              {name}
            </Text>
          </Link>
        ),
      )}
      {children}
    </Flex>
  );
}
