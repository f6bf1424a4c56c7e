"use client";
/** Settings of a movie: kind and quality first, the rest folded until somebody needs it. */
import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { CODEC_FACTS, type Codec, CODECS, endingOf } from "@/core/handover/codecs";
import {
  type Burnt,
  BURNT,
  MOVIE_PRESETS,
  type MoviePreset,
  type MovieSettings,
  PRESET_FACTS,
  USUAL_MOVIE,
  withCodec,
} from "@/core/handover/wish";
import type { Rate } from "@/core/timing/rate";
import { NumberInput, Select, Toggle } from "../fields/fields";
import { RateSelect } from "../fields/rate-select";
import { Labelled, TextLine } from "../page/field";
import { useMoviePresets } from "../live/queries";
import { KeepPreset } from "./own-presets";
import { ShownFields } from "./shown-fields";

/** What the settings may be about. */
export interface MovieSubject {
  /** Of the plan, or of the project. */
  readonly rate: Rate;
  readonly hasAlpha: boolean;
  readonly isLinear: boolean;
  readonly hasSound: boolean;
  /** Sequences that may stand beside it, or behind it. */
  readonly others: readonly { readonly id: number; readonly name: string }[];
}

export interface MovieSettingsProps {
  readonly movie: MovieSettings;
  readonly onChange: (movie: MovieSettings) => void;
  readonly subject: MovieSubject;
  /** By field, where the server said so. */
  readonly faults: Readonly<Record<string, string>>;
}

const BURNT_WORD: Readonly<Record<Burnt, string>> = {
  frame: "frame number",
  timeCode: "time code",
  name: "shot and version",
};

const isPreset = (movie: MovieSettings, preset: MoviePreset): boolean =>
  Object.entries(PRESET_FACTS[preset].sets).every(
    ([key, value]) => JSON.stringify(movie[key as keyof MovieSettings]) === JSON.stringify(value),
  );

const isSame = (one: MovieSettings, other: MovieSettings): boolean =>
  Object.entries(one).every(
    ([key, value]) => JSON.stringify(value) === JSON.stringify(other[key as keyof MovieSettings]),
  );

/** A number or, left blank, nothing. */
const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);

function Row({ children }: { readonly children: ReactNode }) {
  return (
    <Grid templateColumns="repeat(auto-fill, minmax(132px, 1fr))" gap="3" mb="2">
      {children}
    </Grid>
  );
}

export function MovieFields({ movie, onChange, subject, faults }: MovieSettingsProps) {
  const [isOpen, setOpen] = useState(false);
  const set = (change: Partial<MovieSettings>): void => onChange({ ...movie, ...change });
  const facts = CODEC_FACTS[movie.codec];
  const preset = MOVIE_PRESETS.find((name) => isPreset(movie, name));
  const ownPresets = useMoviePresets();
  const own = ownPresets.find((kept) => isSame(kept.movie, movie)) ?? null;
  return (
    <Box>
      <Row>
        <Labelled label="Preset">
          <Select
            label="Preset"
            value={preset ?? (own === null ? "own" : String(own.id))}
            options={[
              ...MOVIE_PRESETS.map((name) => [name as string, PRESET_FACTS[name].word] as const),
              ...ownPresets.map(({ id, name }) => [String(id), name] as const),
              ["own", "as set here"],
            ]}
            onChange={(name) => {
              const shipped = MOVIE_PRESETS.find((known) => known === name);
              const kept = ownPresets.find(({ id }) => String(id) === name);
              if (shipped !== undefined)
                onChange({ ...movie, loops: Math.max(1, movie.loops), ...PRESET_FACTS[shipped].sets });
              else if (kept !== undefined) onChange(kept.movie);
            }}
          />
        </Labelled>
        <Labelled label="Kind" hint={facts.use}>
          <Select<Codec>
            label="Kind of movie"
            value={movie.codec}
            options={CODECS.map((codec) => [codec, CODEC_FACTS[codec].word.split(",")[0]!])}
            onChange={(codec) => onChange(withCodec(movie, codec))}
          />
        </Labelled>
        {facts.containers.length > 1 && (
          <Labelled label="Ends in" fault={faults.container}>
            <Select
              label="Ending"
              value={movie.container}
              options={facts.containers.map((c) => [c, `.${endingOf(c)}`] as const)}
              onChange={(container) => set({ container })}
            />
          </Labelled>
        )}
        <Labelled label="Frames a second">
          <RateSelect rate={movie.rate ?? subject.rate} onRate={(rate) => set({ rate })} />
        </Labelled>
        <SizeField
          movie={movie}
          onChange={onChange}
          fault={faults.percent ?? faults.width ?? faults.height}
        />
        {facts.quality !== null && (
          <Box gridColumn="span 2">
            <Labelled
              label={movie.bitRate === null ? "Quality" : "Kilobits a second"}
              hint={
                movie.bitRate === null
                  ? `${facts.quality.best} best, ${facts.quality.worst} worst; blank: ${facts.quality.usual}`
                  : undefined
              }
              fault={faults.quality ?? faults.bitRate}
            >
              <Flex gap="1" w="full">
                <Select
                  label="By"
                  value={movie.bitRate === null ? "quality" : "rate"}
                  options={[
                    ["quality", "quality"],
                    ["rate", "bit rate"],
                  ]}
                  onChange={(by) =>
                    set(by === "rate" ? { bitRate: 8_000, quality: null } : { bitRate: null })
                  }
                />
                <NumberInput
                  label={movie.bitRate === null ? "Quality" : "Kilobits a second"}
                  step={1}
                  value={movie.bitRate ?? movie.quality ?? NaN}
                  onChange={(value) =>
                    movie.bitRate === null ? set({ quality: orNull(value) }) : set({ bitRate: value })
                  }
                />
              </Flex>
            </Labelled>
          </Box>
        )}
      </Row>
      <Flex gap="5" rowGap="1" flexWrap="wrap" mb="2" role="group" aria-label="Written into each picture">
        <Text color="softInk">Written into each picture:</Text>
        {BURNT.map((burnt) => (
          <Toggle
            key={burnt}
            isOn={movie.burnt.includes(burnt)}
            onChange={(isOn) =>
              set({ burnt: BURNT.filter((b) => (b === burnt ? isOn : movie.burnt.includes(b))) })
            }
          >
            {BURNT_WORD[burnt]}
          </Toggle>
        ))}
      </Flex>
      <Button size="xs" variant="plain" px="0" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? "Fewer settings" : "Holds, background, exposure, sound, side by side"}
      </Button>
      {isOpen && (
        <Box mt="2">
          <Row>
            <Labelled
              label={facts.countsLoops ? "Plays so often, 0: for ever" : "Shown so often"}
              fault={faults.loops}
            >
              <NumberInput label="Loops" step={1} value={movie.loops} onChange={(loops) => set({ loops })} />
            </Labelled>
            <Labelled label="First picture stays, frames" fault={faults.holdFirst}>
              <NumberInput
                label="Hold of the first picture"
                step={1}
                value={movie.holdFirst}
                onChange={(holdFirst) => set({ holdFirst })}
              />
            </Labelled>
            <Labelled label="Last picture stays, frames" fault={faults.holdLast}>
              <NumberInput
                label="Hold of the last picture"
                step={1}
                value={movie.holdLast}
                onChange={(holdLast) => set({ holdLast })}
              />
            </Labelled>
            <Labelled label="Beside it, on the right">
              <Select
                label="Beside it"
                value={String(movie.beside ?? "")}
                options={[["", "nothing"], ...subject.others.map((o) => [String(o.id), o.name] as const)]}
                onChange={(id) => set({ beside: id === "" ? null : Number(id) })}
              />
            </Labelled>
            <Labelled label="Sound">
              <Select
                label="Sound"
                value={typeof movie.sound === "string" ? movie.sound : "file"}
                options={[
                  ["shot", subject.hasSound ? "of the shot" : "of the shot (it has none)"],
                  ["none", "none"],
                  ["file", "another file"],
                ]}
                onChange={(sound) =>
                  set({ sound: sound === "file" ? { path: "sound/", from: 0, offset: 0 } : sound })
                }
              />
            </Labelled>
          </Row>
          {typeof movie.sound !== "string" && (
            <SoundFields sound={movie.sound} onChange={(sound) => set({ sound })} />
          )}
          {subject.isLinear && (
            <Row>
              <ShownFields shown={movie} onChange={set} fault={faults.stops} />
            </Row>
          )}
          {subject.hasAlpha && (
            <BehindFields movie={movie} onChange={onChange} subject={subject} faults={faults} />
          )}
          <KeepPreset movie={movie} chosen={own} />
        </Box>
      )}
    </Box>
  );
}

/** In percent of the pictures, or a size of one's own. */
function SizeField({
  movie,
  onChange,
  fault,
}: {
  readonly movie: MovieSettings;
  readonly onChange: (movie: MovieSettings) => void;
  readonly fault: string | undefined;
}) {
  const { size } = movie;
  return (
    <Box gridColumn="span 2">
      <Labelled label={size === null ? "Size, percent" : "Size, fitted into"} fault={fault}>
        <Flex gap="1" w="full">
          <Box w="100px" flexShrink={0}>
            <Select
              label="Size by"
              value={size === null ? "percent" : "pixels"}
              options={[
                ["percent", "percent"],
                ["pixels", "pixels"],
              ]}
              onChange={(by) =>
                onChange({ ...movie, size: by === "pixels" ? { width: 1920, height: 1080 } : null })
              }
            />
          </Box>
          {size === null ? (
            <NumberInput
              label="Size in percent"
              value={movie.percent}
              onChange={(percent) => onChange({ ...movie, percent })}
            />
          ) : (
            <>
              <NumberInput
                label="Width of the movie"
                step={2}
                value={size.width}
                onChange={(width) => onChange({ ...movie, size: { ...size, width } })}
              />
              <NumberInput
                label="Height of the movie"
                step={2}
                value={size.height}
                onChange={(height) => onChange({ ...movie, size: { ...size, height } })}
              />
            </>
          )}
        </Flex>
      </Labelled>
    </Box>
  );
}

type SoundFile = Exclude<MovieSettings["sound"], string>;

function SoundFields({
  sound,
  onChange,
}: {
  readonly sound: SoundFile;
  readonly onChange: (sound: SoundFile) => void;
}) {
  return (
    <Row>
      <TextLine
        label="Sound file, below the project"
        isMono
        value={sound.path}
        onChange={(path) => onChange({ ...sound, path })}
      />
      <Labelled label="Left out at its beginning, seconds">
        <NumberInput
          label="Sound from"
          value={sound.from}
          onChange={(from) => onChange({ ...sound, from })}
        />
      </Labelled>
      <Labelled label="Begins after, seconds">
        <NumberInput
          label="Sound begins after"
          value={sound.offset}
          onChange={(offset) => onChange({ ...sound, offset })}
        />
      </Labelled>
    </Row>
  );
}

const hex = (part: number): string =>
  Math.round(part * 255)
    .toString(16)
    .padStart(2, "0");

function BehindFields({ movie, onChange, subject, faults }: MovieSettingsProps) {
  const { behind } = movie;
  const set = (next: MovieSettings["behind"]): void => onChange({ ...movie, behind: next });
  return (
    <Row>
      <Labelled label="Behind what is transparent" fault={faults.behind}>
        <Select
          label="Behind"
          value={behind.kind}
          options={[
            ["colour", "a colour"],
            ["picture", "a picture"],
            ["sequence", "another sequence"],
            ...(CODEC_FACTS[movie.codec].keepsAlpha ? ([["kept", "nothing: it stays so"]] as const) : []),
          ]}
          onChange={(kind) =>
            set(
              kind === "colour"
                ? USUAL_MOVIE.behind
                : kind === "picture"
                  ? { kind, path: "" }
                  : kind === "sequence"
                    ? { kind, sequenceId: subject.others[0]?.id ?? 0 }
                    : { kind },
            )
          }
        />
      </Labelled>
      {behind.kind === "colour" && (
        <Labelled label="Colour">
          <input
            type="color"
            aria-label="Colour behind"
            value={`#${behind.colour.map(hex).join("")}`}
            onChange={(event) => {
              const value = event.target.value;
              const part = (at: number): number => Number.parseInt(value.slice(at, at + 2), 16) / 255;
              set({ kind: "colour", colour: [part(1), part(3), part(5)] });
            }}
          />
        </Labelled>
      )}
      {behind.kind === "picture" && (
        <TextLine
          label="Picture, below the project"
          isMono
          value={behind.path}
          onChange={(path) => set({ kind: "picture", path })}
        />
      )}
      {behind.kind === "sequence" && (
        <Labelled label="Which">
          <Select
            label="Sequence behind"
            value={String(behind.sequenceId)}
            options={subject.others.map((o) => [String(o.id), o.name] as const)}
            onChange={(id) => set({ kind: "sequence", sequenceId: Number(id) })}
          />
        </Labelled>
      )}
    </Row>
  );
}
