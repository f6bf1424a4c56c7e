"use client";
/** The selection as text, both ways live, and what can be done with it. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { type RefObject, useState } from "react";
import { firstOf } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { readPastedFrames } from "@/core/frames/pasted-frames";
import { formatPhrase } from "@/core/frames/phrase";
import { FlagForm } from "../check/flag-form";
import { messageOf, remove } from "../live/api";
import { Meant } from "../fields/meant";
import { Refusal } from "../page/states";
import { Tip } from "../theme/tip";
import { frames } from "../words";
import { useShotWork, usePointed } from "../shot/shot-context";
import { DiscardForm } from "./discard-form";
import { useKeys } from "../page/use-keys";

export interface SelectionBarProps {
  /** So that a key of the page can put the cursor there. */
  readonly field: RefObject<HTMLInputElement | null>;
  /** The reason is being asked for. */
  readonly isFlagging: boolean;
  readonly onFlagging: (isFlagging: boolean) => void;
  /** Whether F and G act here; not while something lies over the page. */
  readonly hasKeys: boolean;
  /** Puts the selection into the open bench; null where the bench has no use for it. */
  readonly onUse: (() => void) | null;
}

/**
 * The field writes the selection and the selection writes the field; what cannot be read keeps the selection
 * that was.
 */
export function SelectionBar({ field, isFlagging, onFlagging, hasKeys, onUse }: SelectionBarProps) {
  const { look, shot } = useShotWork();
  // Files of others are not ours to discard.
  const isWatched = shot.plan.watched !== null;
  const { selection } = usePointed();
  const [copied, setCopied] = useState("");
  /** The selection of which it is discarded; blank: of everything. Null while the form is shut. */
  const [discarding, setDiscarding] = useState<string | null>(null);
  const phrase = formatPhrase(selection.set);
  const isEmpty = selection.set.count === 0;
  const clear = useMutation({
    mutationFn: () => remove<{ cleared: number }>(`/api/sequences/${shot.sequence.id}/flags`, { phrase }),
  });
  const startFlagging = (): void => {
    clear.reset();
    onFlagging(true);
  };
  useKeys({ f: startFlagging, g: () => clear.mutate() }, hasKeys && !isEmpty);
  return (
    <Box borderTopWidth="1px" borderBottomWidth="1px" borderColor="rule" py="0.5">
      <Flex gap="4" rowGap="1" align="center" flexWrap={{ base: "wrap", lg: "nowrap" }}>
        <Text minW="82px" className="figures" data-testid="selected-count">
          {frames(selection.set.count)}
        </Text>
        <Input
          ref={field}
          w={{ base: "full", lg: "320px" }}
          flexShrink={0}
          size="xs"
          bg="sheet"
          fontFamily="mono"
          aria-label="Frame phrase"
          placeholder="1001-1010, missing, todo  ( / )"
          value={selection.text}
          aria-invalid={selection.error !== null}
          borderColor={selection.error === null ? "rule" : "brick"}
          onChange={(event) => selection.write(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
          onPaste={(event) => {
            // A list as somebody sent it takes the place of the phrase; a piece of a phrase is pasted as always.
            const text = event.clipboardData.getData("text");
            const pasted = parsePhrase(text).ok ? null : readPastedFrames(text);
            if (pasted === null) return;
            event.preventDefault();
            selection.write(pasted);
          }}
        />
        <Tip text="See the first selected frame large (V, or double click on the band)">
          <Button variant="plain" size="xs" disabled={isEmpty} onClick={() => look(firstOf(selection.set)!)}>
            Look
          </Button>
        </Tip>
        <Tip text="Reject these frames, with a reason (F)">
          <Button variant="plain" size="xs" disabled={isEmpty} onClick={startFlagging}>
            Flag
          </Button>
        </Tip>
        <Tip text="Take flags back that a person or a node put there (G)">
          <Button
            variant="plain"
            size="xs"
            disabled={isEmpty}
            loading={clear.isPending}
            onClick={() => clear.mutate()}
          >
            Clear flag
          </Button>
        </Tip>
        <Button
          variant="plain"
          size="xs"
          disabled={isEmpty}
          onClick={() => void navigator.clipboard.writeText(phrase).then(() => setCopied(phrase))}
        >
          {copied === phrase && !isEmpty ? "Copied" : "Copy"}
        </Button>
        {!isWatched && (
          <Tip text="Saved samples and files that the plan does not ask for, with their sizes">
            <Button variant="plain" size="xs" onClick={() => setDiscarding(isEmpty ? "" : phrase)}>
              Discard…
            </Button>
          </Tip>
        )}
        {onUse !== null && (
          <Button variant="plain" size="xs" disabled={isEmpty} onClick={onUse}>
            Use in the bench
          </Button>
        )}
        <Text
          ml="auto"
          fontFamily="mono"
          fontSize="xs"
          color="softInk"
          truncate
          minW="0"
          title={phrase}
          data-testid="selected-frames"
        >
          {phrase}
        </Text>
      </Flex>
      {selection.error !== null && <Refusal>{selection.error.message}</Refusal>}
      <Meant text={selection.text} onTake={selection.write} />
      {selection.outside.count > 0 && (
        <Text color="ochre" fontSize="xs">
          Not in this sequence: {formatPhrase(selection.outside)}
        </Text>
      )}
      {clear.isSuccess && clear.data.cleared === 0 && (
        <Text color="softInk" fontSize="xs">
          None of these frames bears a flag that can be taken back. What a check found stays until the file is
          whole.
        </Text>
      )}
      {clear.error !== null && <Refusal>{messageOf(clear.error)}</Refusal>}
      {discarding !== null && (
        <DiscardForm
          key={discarding}
          phrase={discarding === "" ? null : discarding}
          onDone={() => setDiscarding(null)}
        />
      )}
      {isFlagging && (
        <FlagForm sequenceId={shot.sequence.id} frames={selection.set} onDone={() => onFlagging(false)} />
      )}
    </Box>
  );
}
