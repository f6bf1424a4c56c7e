"use client";
/** What the sequence is compared with: other versions and passes, of this shot or another, or the files that were replaced. */
import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Select } from "../fields/fields";
import type { ShotName } from "../live/api";
import { AnotherShot } from "./another-shot";
import { MOST_LAYERS } from "./arrangement";
import { ArrangementChoice } from "./arrangement-choice";
import { type Choice, comparedText } from "./comparable";
import { type Compared, comparedKey } from "./use-layers";
import type { Viewing } from "./viewing";
import type { Options } from "./words";
import { SettingsLine } from "./settings-line";

const NOTHING = "";
/** Found in two steps: which shot, and what of it. */
const ELSEWHERE = "elsewhere";

export function CompareLine({
  shot,
  choices,
  compared,
  onCompared,
  viewing,
  onViewing,
}: {
  readonly shot: ShotName;
  /** Of the shot itself. */
  readonly choices: readonly Choice[];
  readonly compared: readonly Compared[];
  readonly onCompared: (compared: readonly Compared[]) => void;
  readonly viewing: Viewing;
  readonly onViewing: (change: Partial<Viewing>) => void;
}) {
  /** Which of them is sought in another shot; null: none is. */
  const [sought, setSought] = useState<number | null>(null);
  const isElsewhere = (one: Compared): boolean => one.kind === "sequence" && one.shot !== null;
  const options: Options<string> = [
    ...choices.map(([one, text]) => [comparedKey(one), text] as const),
    ...compared.filter(isElsewhere).map((one) => [comparedKey(one), comparedText(one)] as const),
    [ELSEWHERE, "another shot…"],
  ];
  const put = (at: number, chosen: Compared | null): void => {
    const next = chosen === null ? compared.filter((_, i) => i !== at) : [...compared];
    if (chosen !== null) next[at] = chosen;
    setSought(null);
    onCompared(next);
    // Two meet in one place, more stand side by side.
    if (next.length > 1 && viewing.arrangement !== "blink") onViewing({ arrangement: "beside" });
  };
  const set = (at: number, key: string): void => {
    if (key === ELSEWHERE) return setSought(at);
    const known = [...choices.map(([one]) => one), ...compared];
    put(at, known.find((one) => comparedKey(one) === key) ?? null);
  };
  const choose = (at: number, label: string) => (
    <Box key={at} w="auto">
      <Select
        label={label}
        value={sought === at ? ELSEWHERE : compared[at] === undefined ? NOTHING : comparedKey(compared[at])}
        options={[[NOTHING, at === 0 ? "nothing" : "no more"], ...options]}
        onChange={(key) => set(at, key)}
      />
    </Box>
  );
  return (
    <SettingsLine label="What is compared">
      <Text fontSize="xs" color="softInk">
        Compared with
      </Text>
      {choose(0, "Compared with")}
      {Array.from({ length: MOST_LAYERS - 2 }, (_, i) => i + 1).map((at) =>
        compared.length >= at ? choose(at, `Compared with, ${at + 1}`) : null,
      )}
      {sought !== null && <AnotherShot shot={shot} onChosen={(chosen) => put(sought, chosen)} />}
      <ArrangementChoice others={compared.length} viewing={viewing} onViewing={onViewing} />
    </SettingsLine>
  );
}
