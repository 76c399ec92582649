import { Box, Heading, Text } from "@chakra-ui/react";
import { Link, useLocation } from "react-router";
import * as words from "./words/words";

/** An address that leads nowhere. */
export function NowherePage() {
  const { pathname } = useLocation();
  return (
    <Box as="main" p="30px" maxW="560px">
      <Heading size="md" as="h1">
        {words.app.nothingHere}
      </Heading>
      <Text mt="3" role="alert">
        {words.app.noSuchAddress} <b>{pathname}</b>
        {words.app.perhapsCutOff}
      </Text>
      <Text mt="3">
        <Link to="/" style={{ textDecoration: "underline" }}>
          {words.app.toTheShoots}
        </Link>
      </Text>
    </Box>
  );
}
