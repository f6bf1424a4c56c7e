"use client";
/** Copies a text that is long, and typed wrong once at night. */
import { Button } from "@chakra-ui/react";
import { useEffect, useState } from "react";

/** Says that it has copied, since nothing else shows it; another text is not copied yet. */
export function Copy({ text, what }: { readonly text: string; readonly what: string }) {
  const [isCopied, setCopied] = useState(false);
  useEffect(() => setCopied(false), [text]);
  return (
    <Button
      size="2xs"
      variant="plain"
      aria-label={`Copy: ${what}`}
      onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
    >
      {isCopied ? "Copied" : "Copy"}
    </Button>
  );
}
