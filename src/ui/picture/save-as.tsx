"use client";
/** One picture as one file, under any name: the very bytes that lie on the disk, and not what a browser shows of them. */
import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

export interface PictureToSave {
  /** Address that answers the file. */
  readonly url: string;
  /** Proposed. */
  readonly name: string;
  /** Where it is not the file of a frame: what it is instead. */
  readonly remark?: string;
}

/** Proposes the name; the browser asks where, or puts it among its downloads. */
export function SaveAs({ url, name, remark, onDone }: PictureToSave & { readonly onDone: () => void }) {
  const [wanted, setWanted] = useState(name);
  const isBlank = wanted.trim() === "";
  return (
    <Flex gap="3" align="center" mt="1" role="group" aria-label="Save this picture">
      <Text>Save as</Text>
      <Input
        autoFocus
        size="xs"
        w="340px"
        bg="sheet"
        fontFamily="mono"
        aria-label="Name of the file"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          event.stopPropagation();
          onDone();
        }}
      />
      {isBlank ? (
        <Button size="xs" disabled>
          Save
        </Button>
      ) : (
        <Button size="xs" asChild>
          <a href={url} download={wanted} onClick={() => setTimeout(onDone)}>
            Save
          </a>
        </Button>
      )}
      <Button size="xs" variant="plain" onClick={onDone}>
        Leave it
      </Button>
      {remark !== undefined && (
        <Text fontSize="xs" color="softInk">
          {remark}
        </Text>
      )}
    </Flex>
  );
}
