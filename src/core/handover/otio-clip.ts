/**
 * A sequence as an OpenTimelineIO timeline of one clip (JSON form): numbered files by reference, with the range that they
 * have and the one that is shown. Frames that are not there are marked as missing by what reads it.
 */
import type { Rate } from "../timing/rate";

export interface OtioSequence {
  readonly name: string;
  /** Of the sequence's folder, with a slash at its end; a `file:` address. */
  readonly folderUrl: string;
  /** What a name has before and behind its number. */
  readonly prefix: string;
  readonly suffix: string;
  readonly digits: number;
  /** Numbers of files. */
  readonly first: number;
  readonly last: number;
  readonly step: number;
  readonly rate: Rate;
  /** What it was made from, for people. */
  readonly about: Readonly<Record<string, string>>;
}

/** A `file:` address of a folder. @param folder absolute */
export const folderUrl = (folder: string): string =>
  `file://${folder.split("/").map(encodeURIComponent).join("/")}/`;

export function otioClip(sequence: OtioSequence): string {
  const { name, first, last, step } = sequence;
  const rate = sequence.rate.numerator / sequence.rate.denominator;
  const time = (value: number) => ({ OTIO_SCHEMA: "RationalTime.1", rate, value });
  // A picture stands for all times up to the next one of its step.
  const range = {
    OTIO_SCHEMA: "TimeRange.1",
    start_time: time(first),
    duration: time(last - first + step),
  };
  const clip = {
    OTIO_SCHEMA: "Clip.2",
    name,
    source_range: range,
    enabled: true,
    effects: [],
    markers: [],
    metadata: { "plain-tally": sequence.about },
    active_media_reference_key: "DEFAULT_MEDIA",
    media_references: {
      DEFAULT_MEDIA: {
        OTIO_SCHEMA: "ImageSequenceReference.1",
        name,
        available_range: range,
        target_url_base: sequence.folderUrl,
        name_prefix: sequence.prefix,
        name_suffix: sequence.suffix,
        start_frame: first,
        frame_step: step,
        rate,
        frame_zero_padding: sequence.digits,
        missing_frame_policy: "error",
        metadata: {},
      },
    },
  };
  const timeline = {
    OTIO_SCHEMA: "Timeline.1",
    name,
    global_start_time: null,
    metadata: {},
    tracks: {
      OTIO_SCHEMA: "Stack.1",
      name: "tracks",
      source_range: null,
      effects: [],
      markers: [],
      metadata: {},
      children: [
        {
          OTIO_SCHEMA: "Track.1",
          name: "pictures",
          kind: "Video",
          source_range: null,
          effects: [],
          markers: [],
          metadata: {},
          children: [clip],
        },
      ],
    },
  };
  return `${JSON.stringify(timeline, null, 2)}\n`;
}
