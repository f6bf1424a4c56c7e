"use client";
/** The folder that a handover is put into: the project's own, a path, or one that is found below the roots. */
import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";
import type { Into } from "@/core/handover/wish";
import { TextLine } from "../page/field";
import { FolderTree, type FolderTreeWords } from "../folders/folder-tree";

const PUT: FolderTreeWords = { here: "Put it in here", short: "here", full: (name) => `Put it in ${name}` };

/** As it stands in the field. */
const textOf = (into: Into | null): string =>
  into === null ? "" : into.root === null ? into.folder : `${into.root}:${into.folder}`;

/** `root:folder` below a root, or a path on the server; blank is the project's own. Paths begin with a slash. */
export function intoOf(text: string): Into | null {
  const wanted = text.trim();
  if (wanted === "") return null;
  const colon = wanted.indexOf(":");
  return wanted.startsWith("/") || colon < 0
    ? { root: null, folder: wanted }
    : { root: wanted.slice(0, colon), folder: wanted.slice(colon + 1) };
}

export function IntoField({
  into,
  onChange,
  fault,
}: {
  readonly into: Into | null;
  readonly onChange: (into: Into | null) => void;
  readonly fault: string | undefined;
}) {
  const [text, setText] = useState(textOf(into));
  const [isOpen, setOpen] = useState(false);
  const put = (next: string): void => {
    setText(next);
    onChange(intoOf(next));
  };
  return (
    <Box mt="2">
      <Flex gap="2" align="end">
        <Box flex="1" minW="0">
          <TextLine
            label="Into"
            placeholder="the project's folder handovers"
            isMono
            fault={fault}
            value={text}
            onChange={put}
          />
        </Box>
        <Button size="xs" variant="outline" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Close" : "Choose"}
        </Button>
      </Flex>
      {isOpen && (
        <Box mt="2" borderWidth="1px" borderColor="rule" p="2">
          <FolderTree
            words={PUT}
            onPoint={(root, folder) => {
              put(`${root}:${folder}`);
              setOpen(false);
            }}
          />
        </Box>
      )}
    </Box>
  );
}
