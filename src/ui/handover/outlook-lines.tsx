"use client";
/** What would come of a handover: which frames, what is wrong with them, how long, how large, under which name. */
import { Text } from "@chakra-ui/react";
import type { HandoverOutlook } from "@/contract/handover";
import { TROUBLE_WORD } from "@/core/handover/line-up";
import type { Wish } from "@/core/handover/wish";
import { rateText } from "@/core/timing/rate";
import { Line } from "../page/bench";
import { Refusal } from "../page/states";
import { count, duration, frames, size } from "../words";

const sizeText = ({ width, height }: { readonly width: number; readonly height: number }): string =>
  `${width} x ${height}`;

export function OutlookLines({ outlook, wish }: { readonly outlook: HandoverOutlook; readonly wish: Wish }) {
  const isMovie = wish.as === "movie";
  return (
    <div data-testid="outlook">
      <Line label="Frames">
        {outlook.frames} ({count(outlook.count)})
      </Line>
      {outlook.troubles.map((trouble) => (
        <Line key={`${trouble.kind} ${trouble.frames}`} label={`Of these ${TROUBLE_WORD[trouble.kind]}`}>
          {trouble.frames} ({frames(trouble.count)})
        </Line>
      ))}
      {isMovie && (
        <>
          <Line label="Lasts">
            {duration(outlook.seconds)}: {count(outlook.shown)} pictures at {rateText(outlook.rate)} a second
          </Line>
          {outlook.movie !== null && outlook.size !== null && (
            <Line label="Size">
              {sizeText(outlook.movie)}
              {sizeText(outlook.movie) === sizeText(outlook.size)
                ? ""
                : `, from pictures of ${sizeText(outlook.size)}`}
            </Line>
          )}
        </>
      )}
      {outlook.bytes !== null && (
        <Line label="On disk">
          about {size(outlook.bytes)}
          {isMovie && wish.movie.bitRate === null ? ", by the last one of this quality" : ""}
        </Line>
      )}
      <Line label="Name">{outlook.name}</Line>
      {outlook.warnings.map((warning) => (
        <Text key={warning} color="ochre" fontSize="sm" mt="1">
          {warning}
        </Text>
      ))}
      {outlook.fault !== null && <Refusal>{outlook.fault.message}</Refusal>}
    </div>
  );
}
