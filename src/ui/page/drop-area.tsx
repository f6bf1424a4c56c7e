"use client";
/** Where files are dropped or chosen: keys reach both ways of choosing. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

export interface DropAreaProps {
  /** For tests and screen readers. */
  readonly label: string;
  /** Endings that are offered first; any other file may be chosen too. */
  readonly accept?: string;
  readonly isFolderOffered?: boolean;
  /** Single files are not what is meant. */
  readonly isOnlyFolder?: boolean;
  readonly isMany?: boolean;
  readonly onDrop: (data: DataTransfer) => void;
  readonly onChoose: (files: FileList) => void;
  readonly children?: ReactNode;
}

/** A file input behind a button's look. */
function Choose({
  text,
  label,
  onChoose,
  ...input
}: {
  readonly text: string;
  readonly label: string;
  readonly onChoose: (files: FileList) => void;
  readonly accept?: string;
  readonly multiple?: boolean;
  readonly webkitdirectory?: string;
}) {
  return (
    <Button asChild size="xs" variant="plain" _focusWithin={{ outline: "2px solid", outlineColor: "petrol" }}>
      <label>
        {text}
        <Box asChild position="absolute" w="1px" h="1px" overflow="hidden" clipPath="inset(50%)">
          <input
            type="file"
            aria-label={label}
            {...input}
            onChange={(event) => {
              const { files } = event.target;
              if (files !== null && files.length > 0) onChoose(files);
              // The same file again is a choice, too.
              event.target.value = "";
            }}
          />
        </Box>
      </label>
    </Button>
  );
}

export function DropArea({
  label,
  accept,
  isFolderOffered = false,
  isOnlyFolder = false,
  isMany = false,
  onDrop,
  onChoose,
  children,
}: DropAreaProps) {
  const [isOver, setOver] = useState(false);
  return (
    <Box
      data-testid={`drop-${label}`}
      borderWidth="1px"
      borderStyle="dashed"
      borderColor={isOver ? "petrol" : "softInk"}
      bg={isOver ? "paper" : "transparent"}
      px="3"
      py="3"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        onDrop(event.dataTransfer);
      }}
    >
      <Flex gap="3" rowGap="1" align="baseline" flexWrap="wrap">
        <Text color="softInk">Drop here, or</Text>
        {!isOnlyFolder && (
          <Choose
            text={isMany ? "choose files" : "choose a file"}
            label={label}
            onChoose={onChoose}
            {...(accept === undefined ? {} : { accept })}
            {...(isMany ? { multiple: true } : {})}
          />
        )}
        {isFolderOffered && (
          <Choose
            text={isOnlyFolder ? "choose a folder" : "a folder"}
            label={isOnlyFolder ? label : `${label}, a folder`}
            onChoose={onChoose}
            webkitdirectory=""
          />
        )}
      </Flex>
      {children}
    </Box>
  );
}
