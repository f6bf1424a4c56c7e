"use client";
/**
 * Help: the keys, what the strokes mean, and the frame phrase language with a field to try it in.
 * What is explained here is drawn and read by the code that does it elsewhere: the strokes by the band, the
 * phrases by the reader of every field. A text that could come to differ from what happens is kept to a
 * line.
 */
import { Box, Button, Flex, Grid, Heading, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { Header } from "../page/header";
import { Refusal } from "../page/states";
import { frames } from "../words";
import { StrokeKey } from "./stroke-key";
import { UNDERLINED } from "../theme/underlined";

/** As the pages hear them. Keys work where no field has the focus. */
const KEYS: readonly (readonly [string, string])[] = [
  ["1 to 6", "the benches: Plan, Prove, Run, Check, Patch, Hand over"],
  ["/", "the phrase field"],
  ["Left, Right", "one frame; with Shift ten (on the band, and while you look)"],
  ["Home, End", "first and last frame"],
  ["Enter", "on the band: select the frame; with Shift up to it, with Ctrl add it or take it away"],
  ["+ and -", "on the band of a long sequence: fewer frames, more frames"],
  ["V", "look at the selected frame"],
  ["F, G", "flag with a reason; good, take the flags back"],
  ["B", "in Look: the file that this one replaced, and back"],
  ["[ and ]", "the finding before, the next finding; in Check what is odd as well"],
  ["A, D, U", "in Check: what is odd is a fault; it is none, with a reason; take that back"],
  ["Space", "while you look: play and stop"],
  ["J, K, L", "while you look: backwards, stop, forward"],
  ["I, O", "while you look: play from here, play up to here"],
  ["+ - 0", "while you look: larger, smaller, all of the picture; the wheel does it at the pointer"],
  [", and .", "while you look: half a stop darker, half a stop brighter"],
  ["R", "while you look: draw a rectangle, which is measured and may be flagged with a note"],
  ["S, W", "while you look: save the picture; the whole screen, and back"],
  ["Escape", "close the look"],
];

/** Each goes into the field below with a click. */
const EXAMPLES: readonly (readonly [string, string])[] = [
  ["1-96", "both ends included"],
  ["55-57,77,90-96/2", "terms add up; /2 is every second one"],
  ["1-96,!40-50", "! takes away, from left to right"],
  ["1-96/2 & 40-60", "& keeps what is in both, before the comma adds"],
  ["-5--1", "negative frames"],
];

/** Sets that a shot has names for; they mean nothing on this page, which has no shot. */
const NAMES =
  "all first middle last todo · good flagged failed missing partial stale unchecked extra · waiting rendering checking idle · marker(NAME) · node(NAME), and together: flagged & node(NAME)";

/** The language is tried in place: the same reader as everywhere answers at each key. */
export function HelpPage() {
  const [phrase, setPhrase] = useState("55-57,77,90-96/2");
  const read = parsePhrase(phrase);
  return (
    <>
      <Header project={null} />
      <Box as="main" px="6" pt="5" pb="8" maxW="1280px" mx="auto">
        <Heading as="h1" fontSize="xl" mb="4">
          Help
        </Heading>
        <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap="10">
          <Box>
            <Heading as="h2" fontSize="md" mb="2">
              What the strokes mean
            </Heading>
            <StrokeKey />
            <Heading as="h2" fontSize="md" mt="6" mb="2">
              Frame phrases
            </Heading>
            <Text mb="2">One small language for sets of frames, in every field and on the command line.</Text>
            {EXAMPLES.map(([example, meaning]) => (
              <Flex key={example} gap="4" py="1" align="baseline">
                <Button
                  variant="plain"
                  size="xs"
                  fontFamily="mono"
                  w="190px"
                  justifyContent="flex-start"
                  onClick={() => setPhrase(example)}
                >
                  {example}
                </Button>
                <Text color="softInk">{meaning}</Text>
              </Flex>
            ))}
            <Text mt="2" mb="3">
              Beside a shot there are names:{" "}
              <Box as="span" fontFamily="mono" fontSize="xs">
                {NAMES}
              </Box>
              .{" "}
              <Box as="span" fontFamily="mono">
                todo
              </Box>{" "}
              is all that needs rendering again.
            </Text>
            <Input
              aria-label="Try a phrase"
              size="sm"
              fontFamily="mono"
              bg="sheet"
              value={phrase}
              onChange={(event) => setPhrase(event.target.value)}
            />
            {read.ok ? (
              <Text mt="1" className="figures" role="status">
                {frames(read.set.count)}
                {read.set.count > 0 && (
                  <>
                    , {firstOf(read.set)} to {lastOf(read.set)}, written{" "}
                    <Box as="span" fontFamily="mono">
                      {formatPhrase(read.set)}
                    </Box>
                  </>
                )}
              </Text>
            ) : (
              <Box mt="1">
                <Refusal>{read.error.message}</Refusal>
              </Box>
            )}
          </Box>
          <Box>
            <Heading as="h2" fontSize="md" mb="2">
              Keys
            </Heading>
            {KEYS.map(([key, meaning]) => (
              <Flex key={key} gap="4" py="1.5" {...UNDERLINED}>
                <Text fontFamily="mono" w="120px" flexShrink={0}>
                  {key}
                </Text>
                <Text>{meaning}</Text>
              </Flex>
            ))}
          </Box>
        </Grid>
      </Box>
    </>
  );
}
