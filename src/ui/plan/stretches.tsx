"use client";
/** The shot's named stretches: which of them are asked for. */
import { Box, Button, Flex } from "@chakra-ui/react";
import { difference, EMPTY, intersection, union, unionAll } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { markerSets } from "@/core/tally/names";
import { useShotWork } from "../shot/shot-context";
import { EntryGroup, Toggle } from "../fields/fields";

/** Named stretches, on or off: what is off is taken out of the frames, and named before every start. */
export function Stretches() {
  const {
    draft: { plan, change },
    shot,
  } = useShotWork();
  const asked = parsePhrase(plan.frames);
  const sets = markerSets(shot.markers, plan);
  const toggle = (name: string, isOn: boolean): void => {
    const set = asked.ok ? asked.set : EMPTY;
    // Stretches may overlap: frames that another stretch still wants stay.
    const others = unionAll(
      shot.markers
        .filter((m) => m.name !== name && !plan.markersOff.includes(m.name))
        .map((m) => sets[m.name]!),
    );
    const next = isOn ? union(set, sets[name]!) : difference(set, difference(sets[name]!, others));
    change({
      frames: next.count === 0 ? plan.frames : formatPhrase(next),
      markersOff: isOn ? plan.markersOff.filter((n) => n !== name) : [...plan.markersOff, name],
    });
  };
  // Ticked is what is asked for, however it came about: a phrase that was typed may leave a stretch out.
  const isWanted = (name: string): boolean =>
    !plan.markersOff.includes(name) &&
    (!asked.ok || sets[name]!.count === 0 || intersection(asked.set, sets[name]!).count > 0);
  return (
    <EntryGroup field="markersOff" label="Stretches">
      <Flex gap="4" rowGap="1" flexWrap="wrap">
        {shot.markers.map((marker) => (
          <Flex key={marker.name} gap="1" align="center">
            <Toggle isOn={isWanted(marker.name)} onChange={(isOn) => toggle(marker.name, isOn)}>
              {marker.name}{" "}
              <Box as="span" fontFamily="mono" fontSize="xs" color="softInk">
                {formatPhrase(sets[marker.name]!)}
              </Box>
            </Toggle>
            <Button
              size="xs"
              variant="plain"
              onClick={() =>
                change({
                  frames: formatPhrase(sets[marker.name]!),
                  markersOff: shot.markers.map((m) => m.name).filter((n) => n !== marker.name),
                })
              }
            >
              only
            </Button>
          </Flex>
        ))}
      </Flex>
    </EntryGroup>
  );
}
