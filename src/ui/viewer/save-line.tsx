"use client";
/** Saving what is looked at: the file as it is, or the picture as it is shown, under any name. */
import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Select } from "../fields/fields";
import { type PictureToSave, SaveAs } from "../picture/save-as";

const WAYS = [
  ["file", "the file as it is"],
  ["shown", "the picture as it is shown"],
] as const;

export function SaveLine({
  file,
  nameShown,
  asShown,
  onDone,
}: {
  readonly file: PictureToSave;
  /** Proposed for the picture as it is shown. */
  readonly nameShown: string;
  /** PNG of what is on show, with its surround. */
  readonly asShown: () => Promise<Blob | null>;
  readonly onDone: () => void;
}) {
  const [way, setWay] = useState<"file" | "shown">("file");
  const [shown, setShown] = useState<string | null>(null);
  useEffect(() => {
    if (shown === null) return;
    return () => URL.revokeObjectURL(shown);
  }, [shown]);
  const choose = (next: "file" | "shown"): void => {
    setWay(next);
    if (next === "shown")
      void asShown().then((picture) => setShown(picture === null ? null : URL.createObjectURL(picture)));
  };
  const saved: PictureToSave | null =
    way === "file"
      ? file
      : shown === null
        ? null
        : { url: shown, name: nameShown, remark: "As PNG, with what is around it." };
  return (
    <Flex gap="3" align="center" wrap="wrap">
      <Box w="auto">
        <Select label="What is saved" value={way} options={WAYS} onChange={choose} />
      </Box>
      {saved !== null && <SaveAs key={saved.url} {...saved} onDone={onDone} />}
    </Flex>
  );
}
