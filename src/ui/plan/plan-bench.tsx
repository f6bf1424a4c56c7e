"use client";
/** Plan: everything that decides what the pixels and the files are. */
import { Accordion, Box, Button, Field, Flex, Grid, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { nameHazards } from "@/core/naming/hazards";
import { changedFields, FIXED_FIELDS, FORMATS, nameValues, type Plan, readPlan, sampleNames, versionName } from "@/core/plan/plan";
import { middleFrame } from "@/core/tally/names";
import { durationSeconds, rateText } from "@/core/timing/rate";
import { difference, intersection } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { messageOf, post } from "../live/api";
import { useSceneCameras } from "../live/queries";
import { Bench, Caption, Line } from "../page/bench";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { duration, frames } from "../words";
import { hazardText, mendText } from "./words";

const GROUPS: readonly { readonly name: string; readonly title: string; readonly fields: readonly (keyof Plan)[] }[] = [
  { name: "what", title: "What is rendered", fields: ["scene", "camera", "frames"] },
  { name: "picture", title: "Picture", fields: ["width", "height", "samples", "seed"] },
  { name: "files", title: "Files and names", fields: ["namePattern", "digits", "format"] },
];

export function PlanBench() {
  return <Bench left={<PlanForm />} foot={<SaveLine />} right={<PlanConsequences />} />;
}

function summary(name: string, plan: Plan): string {
  switch (name) {
    case "what": return `${plan.scene}, ${plan.camera} camera, ${plan.frames}`;
    case "picture": return `${plan.width} x ${plan.height}, ${plan.samples} samples, seed ${plan.seed}`;
    default: return `${plan.namePattern || "the number alone"}, ${plan.digits} digits, ${FORMATS[plan.format].label}`;
  }
}

function PlanForm() {
  const { draft } = useShotWork();
  const plan = draft.watch();
  const { errors } = draft.formState;
  return (
    <form onSubmit={(event) => event.preventDefault()} aria-label="Plan">
      <Accordion.Root defaultValue={["what"]} size="sm" variant="plain">
        {GROUPS.map(({ name, title, fields }) => {
          const isWrong = fields.some((field) => errors[field] !== undefined);
          return (
            <Accordion.Item key={name} value={name} borderBottomWidth="1px" borderColor="rule">
              <Accordion.ItemTrigger py="1.5" cursor="pointer">
                <Text fontWeight="700" flexShrink={0} {...(isWrong ? { color: "brick" } : {})}>{title}</Text>
                <Text flex="1" color="softInk" truncate textAlign="right" fontSize="xs" fontFamily="mono">{isWrong ? "something here needs mending" : summary(name, plan)}</Text>
                <Accordion.ItemIndicator />
              </Accordion.ItemTrigger>
              <Accordion.ItemContent><Box pb="3" pt="1" px="0.5">{name === "what" ? <WhatFields /> : name === "picture" ? <PictureFields /> : <FileFields />}</Box></Accordion.ItemContent>
            </Accordion.Item>
          );
        })}
      </Accordion.Root>
    </form>
  );
}

function Entry({ field, label, children, hint }: { readonly field: keyof Plan; readonly label: string; readonly children: ReactNode; readonly hint?: ReactNode }) {
  const { draft } = useShotWork();
  const error = draft.formState.errors[field];
  return (
    <Field.Root invalid={error !== undefined}>
      <Field.Label fontSize="xs" color="softInk" mb="-0.5">{label}</Field.Label>
      {children}
      {error === undefined ? hint !== undefined && <Field.HelperText mt="0">{hint}</Field.HelperText> : <Field.ErrorText mt="0">{error.message}</Field.ErrorText>}
    </Field.Root>
  );
}

function WhatFields() {
  const { draft, shot } = useShotWork();
  const scene = draft.watch("scene");
  const cameras = useSceneCameras(shot.code, scene);
  const camera = draft.watch("camera");
  const known = cameras.data?.cameras ?? [];
  return (
    <Grid templateColumns="1fr 1fr" gap="3">
      <Entry field="scene" label="Scene file" hint={cameras.error !== null ? <Box as="span" color="brick" role="alert">{messageOf(cameras.error)}</Box> : undefined}>
        <Select {...draft.register("scene")} options={shot.scenes.includes(scene) ? shot.scenes : [scene, ...shot.scenes]} />
      </Entry>
      <Entry field="camera" label="Camera">
        <Select {...draft.register("camera")} options={known.includes(camera) ? known : [camera, ...known]} />
      </Entry>
      <Box gridColumn="1 / 3">
        <Entry field="frames" label="Frames" hint="Both ends included; 1001-1096/2 is every second one; !1040-1050 takes away">
          <Input size="sm" fontFamily="mono" bg="paper" autoComplete="off" {...draft.register("frames")} />
        </Entry>
      </Box>
    </Grid>
  );
}

function PictureFields() {
  const { draft } = useShotWork();
  const number = (field: "width" | "height" | "samples" | "seed", label: string, hint?: string) => (
    <Entry field={field} label={label} {...(hint === undefined ? {} : { hint })}><Input size="sm" type="number" fontFamily="mono" bg="paper" {...draft.register(field, { valueAsNumber: true })} /></Entry>
  );
  return <Grid templateColumns="repeat(4, 1fr)" gap="3">{number("width", "Width, pixels")}{number("height", "Height, pixels")}{number("samples", "Samples a pixel", "half the grain costs 4 x")}{number("seed", "Seed")}</Grid>;
}

function FileFields() {
  const { draft } = useShotWork();
  return (
    <Grid templateColumns="5fr 2fr 4fr" gap="3">
      <Entry field="namePattern" label="Name"><Input size="sm" fontFamily="mono" bg="paper" autoComplete="off" {...draft.register("namePattern")} /></Entry>
      <Entry field="digits" label="Digits"><Input size="sm" type="number" fontFamily="mono" bg="paper" {...draft.register("digits", { valueAsNumber: true })} /></Entry>
      <Entry field="format" label="Format"><Select {...draft.register("format")} options={Object.keys(FORMATS)} labels={Object.fromEntries(Object.entries(FORMATS).map(([key, f]) => [key, f.label]))} /></Entry>
      <Text gridColumn="1 / 4" color="softInk" fontSize="xs" fontFamily="mono">{"{project} {shot} {version} {pass} {camera} {frame} or ####"}</Text>
    </Grid>
  );
}

function Select({ options, labels, ...field }: { readonly options: readonly string[]; readonly labels?: Readonly<Record<string, string>> } & React.ComponentProps<"select">) {
  return (
    <NativeSelect.Root size="sm">
      <NativeSelect.Field {...field} fontFamily="mono" bg="paper">
        {options.map((option) => <option key={option} value={option}>{labels?.[option] ?? option}</option>)}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

function PlanConsequences() {
  const { draft, shot, view, tally, files } = useShotWork();
  const plan = draft.watch();
  const read = readPlan(plan);
  const asked = parsePhrase(plan.frames);
  const set = asked.ok ? asked.set : null;
  const { rate } = shot.project;
  const values = nameValues(shot.project.slug, shot.code, { ...shot.sequence, camera: plan.camera });
  const there = set === null ? null : intersection(set, files.index.set);
  const leftOut = set === null ? null : difference(files.index.set, set);
  return (
    <>
      <Caption>What follows</Caption>
      {set !== null && set.count > 0 && (
        <>
          <Line label="Frames">{frames(set.count)}, {firstOf(set)} to {lastOf(set)}</Line>
          <Line label="Lasts">{duration(durationSeconds(set.count, rate))} at {rateText(rate)} a second</Line>
        </>
      )}
      {read.ok ? (
        <>
          {sampleNames(read.value, values, middleFrame(read.value.asked)!).map((name, i) => <Line key={i} label={["First file", "Middle file", "Last file"][i]}><Box as="span" fontFamily="mono" data-testid={`name-${i}`}>{name}</Box></Line>)}
          <Hazards plan={plan} hazards={nameHazards(plan.namePattern, read.value.pattern, values, FORMATS[plan.format].extension, firstOf(read.value.asked)!, lastOf(read.value.asked)!)} />
        </>
      ) : <Text color="brick" py="2">{read.faults.map((f) => f.message).join(" ")}</Text>}
      {there !== null && (
        <Line label="There already">
          {there.count === 0 ? "none of these frames" : <>{frames(there.count)}: <Box as="span" fontFamily="mono">{shorten(formatPhrase(there))}</Box></>}
          {tally.results.good.count > 0 && there.count > 0 ? `, ${intersection(there, tally.results.good).count} of them good` : ""}
        </Line>
      )}
      {leftOut !== null && leftOut.count > 0 && <Line label="No longer asked for"><Box as="span" color="ochre">{frames(leftOut.count)}: {shorten(formatPhrase(leftOut))}; the files stay and count as extra</Box></Line>}
      {view.files.bytes > 0 && files.index.count > 0 && <Line label="A frame so far">{(view.files.bytes / files.index.count / 1000).toFixed(0)} kB on disk</Line>}
    </>
  );
}

const LONGEST_LISTED = 80;
const shorten = (phrase: string): string => (phrase.length <= LONGEST_LISTED ? phrase : `${phrase.slice(0, LONGEST_LISTED)} ...`);

function Hazards({ plan, hazards }: { readonly plan: Plan; readonly hazards: ReturnType<typeof nameHazards> }) {
  const { draft } = useShotWork();
  const set = (change: Partial<Plan>): void => (Object.entries(change) as [keyof Plan, Plan[keyof Plan]][]).forEach(([field, value]) => draft.setValue(field, value, { shouldDirty: true, shouldValidate: true }));
  return hazards.map((hazard) => {
    const mend = mendText(hazard);
    return (
      <Flex key={hazard.code} justify="space-between" gap="4" py="1.5" borderBottomWidth="1px" borderStyle="dotted" borderColor="rule" align="center" role="alert">
        <Text color="ochre">{hazardText(hazard)}</Text>
        {mend !== null && "mend" in hazard && <Button size="xs" variant="outline" flexShrink={0} onClick={() => set({ namePattern: plan.namePattern, ...("pattern" in hazard.mend ? { namePattern: hazard.mend.pattern } : {}), ...("digits" in hazard.mend ? { digits: hazard.mend.digits } : {}) })}>{mend}</Button>}
      </Flex>
    );
  });
}

const FIELD_WORD: Readonly<Record<keyof Plan, string>> = { scene: "scene", camera: "camera", frames: "frames", width: "width", height: "height", samples: "samples", seed: "seed", namePattern: "name", digits: "digits", format: "format" };

/** What saving would do, and the button that does it. */
function SaveLine() {
  const { draft, shot, savePlan, saveTrouble, openVersion } = useShotWork();
  const plan = draft.watch();
  const canSave = readPlan(plan).ok;
  const changed = changedFields(shot.plan, plan);
  const fixed = shot.hasFiles ? FIXED_FIELDS.filter((field) => changed.includes(field)) : [];
  const next = Math.max(...shot.choices.map((c) => c.version)) + 1;
  const open = useMutation({
    mutationFn: () => post<{ version: number }>(`/api/shots/${encodeURIComponent(shot.code)}/versions`, { plan: draft.getValues() }),
    onSuccess: ({ version }) => openVersion(version, plan.camera),
  });
  if (changed.length === 0) return <Text color="softInk">This is revision {shot.revision} of {versionName(shot.sequence.version)} as saved. Runs use it.</Text>;
  return (
    <Box>
      <Text mb="1">Changed since revision {shot.revision}: {changed.map((field) => FIELD_WORD[field]).join(", ")}.</Text>
      {fixed.length > 0 ? (
        <>
          <Text mb="1" color="ochre">{versionName(shot.sequence.version)} holds files, so its {fixed.map((field) => FIELD_WORD[field]).join(" and ")} cannot change any more: two kinds of files in one folder could not be told apart.</Text>
          <Flex gap="4" align="center">
            <Button size="sm" disabled={!canSave} loading={open.isPending} onClick={() => open.mutate()}>Open {versionName(next)} with this plan</Button>
            <Button size="sm" variant="plain" onClick={() => fixed.forEach((field) => draft.setValue(field, shot.plan[field], { shouldDirty: true, shouldValidate: true }))}>Put {fixed.length === 1 ? "it" : "them"} back</Button>
          </Flex>
        </>
      ) : (
        <Flex gap="4" align="center">
          <Button size="sm" disabled={!canSave} loading={draft.formState.isSubmitting} onClick={() => void savePlan()}>Save as revision {shot.revision + 1}</Button>
          <Button size="sm" variant="plain" onClick={() => draft.reset(shot.plan)}>Drop the change</Button>
        </Flex>
      )}
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
      {saveTrouble !== null && <Refusal>{saveTrouble.message}</Refusal>}
    </Box>
  );
}
