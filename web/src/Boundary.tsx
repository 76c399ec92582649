import { Box, Heading, Text } from "@chakra-ui/react";
import { Component, type ReactNode } from "react";
import { Act } from "./theme/controls";
import * as words from "./words/words";

type Props = {
  children: ReactNode;
  /** A failure is forgotten when this changes: another page is another try. */
  page?: string;
  /** What stands there instead; by default what went wrong and what helps. */
  instead?: ReactNode;
};
type State = { failed: Error | null };

/** Catches what fails while a page is drawn, or cannot be loaded: instead of an empty page it says so, and what helps. */
export class Boundary extends Component<Props, State> {
  state: State = { failed: null };

  static getDerivedStateFromError(failed: unknown): State {
    return { failed: failed instanceof Error ? failed : new Error(String(failed)) };
  }

  componentDidUpdate({ page }: Props) {
    if (page !== this.props.page && this.state.failed) this.setState({ failed: null });
  }

  render() {
    const { failed } = this.state;
    if (!failed) return this.props.children;
    if (this.props.instead !== undefined) return this.props.instead;
    return (
      <Box as="main" p="30px" maxW="560px">
        <Heading size="md" as="h1">
          {words.app.pageFailed}
        </Heading>
        <Text mt="3" role="alert">
          {words.app.nothingIsLost(failed.message)}
        </Text>
        <Box mt="3" display="flex" gap="6px">
          <Act onClick={() => window.location.reload()}>{words.app.loadItAgain}</Act>
          <Act asChild>
            <a href="/api/report" download>
              {words.app.saveAReport}
            </a>
          </Act>
        </Box>
      </Box>
    );
  }
}

/** Stands where a page is about to be. */
export function Coming() {
  return (
    <Text p="30px" color="soft" role="status">
      {words.app.oneMoment}
    </Text>
  );
}
