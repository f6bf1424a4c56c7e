"use client";
/** A clock time, in 24 hours: a browser's own field for times writes AM and PM where its language does. */
import { Input } from "@chakra-ui/react";
import { useState } from "react";
import { clockText, readClock } from "@/core/timing/clock";

/** What is half typed is kept here and told to nobody. */
export function ClockInput({
  label,
  value,
  isOptional = false,
  onChange,
}: {
  readonly label: string;
  /** HH:MM; blank for none. */
  readonly value: string;
  /** Blank is a value. */
  readonly isOptional?: boolean;
  /** Hears HH:MM, or a blank. */
  readonly onChange: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? value;
  const isWrong = readClock(shown) === null && !(isOptional && shown === "");
  return (
    <Input
      size="xs"
      w="72px"
      fontFamily="mono"
      bg="paper"
      autoComplete="off"
      placeholder={isOptional ? "08:00" : ""}
      aria-label={label}
      aria-invalid={isWrong}
      title={isWrong ? "Write a time such as 08:00 or 17:30" : undefined}
      {...(isWrong ? { borderColor: "brick", color: "brick" } : {})}
      value={shown}
      onChange={(event) => {
        const text = event.target.value;
        setTyped(text);
        const time = readClock(text);
        if (time !== null) onChange(clockText(time));
        else if (isOptional && text.trim() === "") onChange("");
      }}
      // What was typed short stands there in full.
      onBlur={() =>
        setTyped((text) => (text !== null && readClock(text) === null && text !== "" ? text : null))
      }
    />
  );
}
