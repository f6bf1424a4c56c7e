"use client";
/** What kind of files, with or without alpha, and what they are called. */
import { Flex, Grid } from "@chakra-ui/react";
import {
  ALPHAS,
  type ChannelChoice,
  DEFAULT_FILE,
  FILE_FACTS,
  FILE_KINDS,
  type FileKind,
  type WrittenFormat,
  writtenFormat,
} from "@/core/image/file-format";
import type { Plan } from "@/core/plan/plan";
import { useShotWork } from "../shot/shot-context";
import { Entry, EntryGroup, NumberField, NumberInput, Remark, Select, TextField } from "../fields/fields";
import { ALPHA_TEXT, FILE_KIND_TEXT } from "../shot/plan-words";

/**
 * Another kind brings its usual depth and compression along, and drops alpha where it holds none: a plan that
 * cannot be written is never one click away.
 */
export function FileGroup() {
  const { plan, change } = useShotWork().draft;
  const file = writtenFormat(plan.file);
  const choose = (kind: FileKind): void =>
    change({ file: DEFAULT_FILE[kind], ...(FILE_FACTS[kind].holdsAlpha ? {} : { alpha: "none" }) });
  return (
    <Flex direction="column" gap="2">
      <Grid templateColumns="3fr 4fr 4fr" gap="3">
        <Entry field="file" label="Format">
          <Select
            value={file.kind}
            options={FILE_KINDS.map((kind) => [kind, FILE_KIND_TEXT[kind]] as const)}
            onChange={choose}
          />
        </Entry>
        <FormatDetails file={file} change={change} />
        <Entry
          field="alpha"
          label="Alpha"
          hint={
            FILE_FACTS[file.kind].holdsAlpha
              ? "Premultiplied for laying over pictures in compositing; straight where the next program takes colour and alpha apart."
              : undefined
          }
        >
          <Select
            value={plan.alpha}
            options={(FILE_FACTS[file.kind].holdsAlpha ? ALPHAS : (["none"] as const)).map(
              (alpha) => [alpha, ALPHA_TEXT[alpha]] as const,
            )}
            onChange={(alpha) => change({ alpha })}
          />
        </Entry>
        <Entry
          field="channels"
          label="Channels"
          hint={
            plan.channels === "grey"
              ? "Luminance of the light; normals and depth stay as they are."
              : undefined
          }
        >
          <Select<ChannelChoice>
            value={plan.channels}
            options={[
              ["colour", "red, green, blue"],
              ["grey", "one: grey"],
            ]}
            onChange={(channels) => change({ channels })}
          />
        </Entry>
      </Grid>
      <Grid templateColumns="minmax(0, 1fr) 56px 100px" gap="3">
        <TextField field="namePattern" label="Name" />
        <NumberField field="digits" label="Digits" />
        <Entry field="namePattern" label="Before it" hint={null}>
          <Select
            label="Before the number"
            value={separatorOf(plan.namePattern) ?? "other"}
            options={[
              [".", "a dot"],
              ["_", "a low line"],
              ["-", "a dash"],
              ["other", "as written"],
            ]}
            onChange={(separator) =>
              separator !== "other" && change({ namePattern: withSeparator(plan.namePattern, separator) })
            }
          />
        </Entry>
      </Grid>
      <Remark>
        <code>{"{project} {shot} {version} {pass} {camera} {frame}"}</code> or <code>####</code>
      </Remark>
      <Remark>
        A movie is no choice here: a movie that is interrupted is lost whole, a sequence loses one frame. It
        is made at the end, from frames that are safe.
      </Remark>
    </Flex>
  );
}

/** Eight or sixteen a channel, for the kinds that have either. */
const Bits = ({
  depth,
  onChange,
}: {
  readonly depth: 8 | 16;
  readonly onChange: (depth: 8 | 16) => void;
}) => (
  <Select
    label="Bits"
    value={String(depth)}
    options={[
      ["8", "8"],
      ["16", "16"],
    ]}
    onChange={(bits) => onChange(bits === "8" ? 8 : 16)}
  />
);

/**
 * What there is to choose in a kind of file: one case a kind, so that a new kind does not compile without its
 * fields.
 */
function FormatDetails({
  file,
  change,
}: {
  readonly file: WrittenFormat;
  readonly change: (edits: Partial<Plan>) => void;
}) {
  switch (file.kind) {
    case "png":
      return (
        <EntryGroup field="file" label="Bits, compression">
          <Flex gap="2" w="full">
            <Bits depth={file.depth} onChange={(depth) => change({ file: { ...file, depth } })} />
            <NumberInput
              label="Compression"
              value={file.level}
              onChange={(level) => change({ file: { ...file, level } })}
            />
          </Flex>
        </EntryGroup>
      );
    case "tiff":
      return (
        <EntryGroup field="file" label="Bits, compression">
          <Flex gap="2" w="full">
            <Bits depth={file.depth} onChange={(depth) => change({ file: { ...file, depth } })} />
            <Select
              label="Compression"
              value={file.compression}
              options={[
                ["none", "plain"],
                ["deflate", "deflated"],
              ]}
              onChange={(compression) => change({ file: { ...file, compression } })}
            />
          </Flex>
        </EntryGroup>
      );
    case "exr":
      return (
        <EntryGroup field="file" label="Depth, compression">
          <Flex gap="2" w="full">
            <Select
              label="Depth"
              value={file.depth}
              options={[
                ["half", "half"],
                ["float", "float"],
              ]}
              onChange={(depth) => change({ file: { ...file, depth } })}
            />
            <Select
              label="Compression"
              value={file.compression}
              options={[
                ["none", "plain"],
                ["rle", "RLE"],
                ["zip", "ZIP"],
              ]}
              onChange={(compression) => change({ file: { ...file, compression } })}
            />
          </Flex>
        </EntryGroup>
      );
    case "jpeg":
      return (
        <Entry field="file" label="Quality, 1 to 100">
          <NumberInput value={file.quality} onChange={(quality) => change({ file: { ...file, quality } })} />
        </Entry>
      );
  }
}

/** The place before the number in a pattern, with the separator that stands there. */
const BEFORE_FRAME = /([._-])?(?=(?:\{frame\}|#+|%0?\d*d))/;

/** The character before the number, where it is one of the three usual ones. */
const separatorOf = (pattern: string): "." | "_" | "-" | null =>
  (BEFORE_FRAME.exec(pattern)?.[1] as "." | "_" | "-" | undefined) ?? null;
/** The same pattern with another sign before the number. */
const withSeparator = (pattern: string, separator: string): string =>
  pattern.replace(BEFORE_FRAME, separator);
