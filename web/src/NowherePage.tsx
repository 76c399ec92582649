import { Box, Heading, Text } from "@chakra-ui/react";
import { Link, useLocation } from "react-router";

/** An address that leads nowhere. */
export function NowherePage() {
  const { pathname } = useLocation();
  return (
    <Box as="main" p="30px" maxW="560px">
      <Heading size="md" as="h1">
        There is nothing here
      </Heading>
      <Text mt="3" role="alert">
        No page of Keen Sweep has the address <b>{pathname}</b>: perhaps it was cut off when it was copied.
      </Text>
      <Text mt="3">
        <Link to="/" style={{ textDecoration: "underline" }}>
          To the shoots
        </Link>
      </Text>
    </Box>
  );
}
