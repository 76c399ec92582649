import { Button, type ButtonProps, chakra } from "@chakra-ui/react";

/** A key, as shown beside what it does. */
export const Key = chakra("kbd", {
  base: {
    fontFamily: "body",
    fontSize: "12px",
    lineHeight: "16px",
    px: "5px",
    border: "1px solid #8a8a84",
    borderRadius: "3px",
    bg: "sheet",
    color: "ink",
  },
});

type ActProps = ButtonProps & { keys?: string; tip?: string; pressed?: boolean };

/** A button with its key in the tooltip; pressed ones are dark. */
export function Act({ keys, tip, pressed, children, ...rest }: ActProps) {
  const title = [tip, keys ? `Key: ${keys}` : ""].filter(Boolean).join(". ");
  return (
    <Button
      size="xs"
      h="28px"
      px="10px"
      fontSize="14px"
      fontWeight={pressed ? 700 : 400}
      variant="plain"
      borderRadius="3px"
      border="1px solid"
      borderColor={pressed ? "ink" : "line"}
      bg={pressed ? "ink" : "sheet"}
      color={pressed ? "white" : "ink"}
      _hover={{ bg: pressed ? "ink" : "white" }}
      _disabled={{ opacity: 0.5, cursor: "default" }}
      title={title || undefined}
      aria-pressed={pressed}
      {...rest}
    >
      {children}
    </Button>
  );
}

/** The one thing to do next. */
export function Lead(props: ActProps) {
  return <Act bg="marigold" borderColor="#b87a06" fontWeight={700} _hover={{ bg: "#ffb733" }} {...props} />;
}
