"use client";
/**
 * Settings: storage, renderers, what follows a run, housekeeping. Each figure is measured and each value says where
 * it comes from. They are changed on the server's own machine, so the page says what to write and where.
 */
import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { CallMoment, ProgramCall } from "@/contract/configuration";
import NextLink from "next/link";
import type { HouseSeenView, SettingsView } from "@/contract/settings-view";
import { messageOf, post } from "../live/api";
import { useHouseSeen, useSettings } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Select } from "../fields/fields";
import { Header } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { size } from "../words";
import { Cell, Heads, Part } from "./parts";
import { TryRenderer } from "./try-renderer";
import { Webhooks } from "./webhooks";
import { ADD_ROOT, rendererText, rootText, SETTING_TEXT, sourceText } from "./words";

const ACCESS_PAGES = [
  ["/people", "People and their keys"],
  ["/audit", "What was done, by whom"],
  ["/nodes#joining", "Machines that join"],
  ["/http", "For programs"],
] as const;

/** What nodes say of a root or a renderer, a line each. */
function Seen({
  lines,
  isAsking,
}: {
  readonly lines: readonly { readonly node: string; readonly text: string; readonly isWrong: boolean }[];
  readonly isAsking: boolean;
}) {
  if (isAsking) return <Text color="softInk">asking the nodes</Text>;
  if (lines.length === 0) return <Text color="softInk">no node is there to ask</Text>;
  return lines.map(({ node, text, isWrong }) => (
    <Text key={node} {...(isWrong ? { color: "brick" } : {})}>
      <Box as="span" fontFamily="mono">
        {node}
      </Box>{" "}
      {text}
    </Text>
  ));
}

type SeenProps = { readonly settings: SettingsView; readonly seen: HouseSeenView | undefined };

function Roots({ settings, seen }: SeenProps) {
  return (
    <Table.Root size="sm" variant="line" aria-label="Roots">
      <Heads
        names={[
          ["Root", "12%"],
          ["Folder on the server", "32%"],
          ["Free", "10%"],
          ["Projects", "16%"],
          ["As each node sees it", "30%"],
        ]}
      />
      <Table.Body>
        {settings.roots.map((root) => (
          <Table.Row key={root.name} bg="transparent" data-testid={`root-${root.name}`}>
            <Cell isMono>{root.name}</Cell>
            <Cell isMono>{root.folder}</Cell>
            <Cell>{root.freeBytes === null ? "not known" : size(root.freeBytes)}</Cell>
            <Cell>{root.projects.length === 0 ? "none" : root.projects.join(", ")}</Cell>
            <Cell>
              <Seen
                isAsking={seen === undefined}
                lines={(seen?.nodes ?? []).map(({ node, answer }) => ({
                  node,
                  ...rootText(answer?.roots.find((r) => r.name === root.name) ?? null),
                }))}
              />
            </Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

/** Of most renderers a studio has few licences, or as many as it likes. */
const AT_ONCE = [1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 24, 32, 48, 64, 96];

/** Licences of a renderer: so many of its frames are in work at once, whatever nodes are free. */
function AtOnce({ renderer, atOnce }: { readonly renderer: string; readonly atOnce: number | null }) {
  const client = useQueryClient();
  const set = useMutation({
    mutationFn: (most: number | null) =>
      post(`/api/renderers/${encodeURIComponent(renderer)}/limit`, { atOnce: most }),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.settings }),
  });
  const numbers =
    atOnce === null || AT_ONCE.includes(atOnce) ? AT_ONCE : [...AT_ONCE, atOnce].sort((a, b) => a - b);
  return (
    <>
      <Select
        label={`Frames of ${renderer} at once`}
        value={atOnce === null ? "" : String(atOnce)}
        options={[["", "as nodes take"], ...numbers.map((n) => [String(n), `${n} at once`] as const)]}
        onChange={(most) => set.mutate(most === "" ? null : Number(most))}
      />
      {set.error !== null && <Refusal>{messageOf(set.error)}</Refusal>}
    </>
  );
}

function Renderers({ settings, seen }: SeenProps) {
  return (
    <Table.Root size="sm" variant="line" aria-label="Renderers">
      <Heads
        names={[
          ["Renderer", "12%"],
          ["Program", "26%"],
          ["Version", "9%"],
          ["Offers", "14%"],
          ["At once, all nodes", "14%"],
          ["Ready on", "25%"],
        ]}
      />
      <Table.Body>
        {settings.renderers.map(({ offer, program, version, atOnce }) => (
          <Table.Row key={offer.name} bg="transparent" data-testid={`renderer-${offer.name}`}>
            <Cell isMono>{offer.name}</Cell>
            <Cell isMono={program !== null}>{program ?? "comes along"}</Cell>
            <Cell>{version ?? (program === null ? "this one" : "not said")}</Cell>
            <Cell>
              {offer.passes.length === 1 ? "beauty alone" : `${offer.passes.length} passes`}
              {offer.options.length === 0 ? "" : `, ${offer.options.length} options`}
              {offer.keepsState ? ", goes on inside a frame" : ""}
            </Cell>
            <Cell>
              <AtOnce renderer={offer.name} atOnce={atOnce} />
            </Cell>
            <Cell>
              <Seen
                isAsking={seen === undefined}
                lines={(seen?.nodes ?? []).map(({ node, answer }) => ({
                  node,
                  ...rendererText(answer?.renderers.find((r) => r.name === offer.name) ?? null),
                }))}
              />
            </Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function Values({ settings }: { readonly settings: SettingsView }) {
  return (
    <Table.Root size="sm" variant="line" aria-label="The configuration in force">
      <Table.Body>
        {settings.values.map((value) => (
          <Table.Row key={value.name} bg="transparent">
            <Cell isMono>{value.name}</Cell>
            <Cell>
              {value.value}
              <Text color="softInk">{SETTING_TEXT[value.name]}</Text>
            </Cell>
            <Cell>{sourceText(value)}</Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

/** A program of the house, as it is declared. */
function CallPart({
  title,
  about,
  name,
  call,
}: {
  readonly title: string;
  readonly about: string;
  readonly name: CallMoment;
  readonly call: ProgramCall | null;
}) {
  return (
    <Part title={title} about={about}>
      {call === null ? (
        <Text>
          Nothing is called. A program is declared as <code>{name}</code>.
        </Text>
      ) : (
        <Text fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
          {[call.program, ...call.arguments].join(" ")}
        </Text>
      )}
    </Part>
  );
}

function Parts({ settings }: { readonly settings: SettingsView }) {
  const { data: seen, error } = useHouseSeen();
  const { programCalls, keep } = settings;
  const nodes = (seen?.nodes ?? []).map(({ node }) => node);
  return (
    <Box as="main" px="6" pt="5" pb="12" maxW="1280px" mx="auto">
      <Heading as="h1" fontSize="xl" fontWeight="700">
        Settings
      </Heading>
      <Text color="softInk">
        {settings.hasFile ? "They stand in " : "There is no file of settings yet; they would stand in "}
        <code>{settings.file}</code>, on the server&apos;s machine, and hold from the moment it is saved.
      </Text>
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      <Part
        title="Storage"
        about={
          <>
            Projects lie below these folders. Another one is declared on the server: <code>{ADD_ROOT}</code>
          </>
        }
      >
        <Roots settings={settings} seen={seen} />
      </Part>
      <Part
        title="Renderers"
        about={
          <>
            Any renderer with a command line can be declared: <code>docs/renderers.md</code> builds one up.
          </>
        }
      >
        <Renderers settings={settings} seen={seen} />
        <TryRenderer renderers={settings.renderers.map(({ offer }) => offer.name)} nodes={nodes} />
      </Part>
      <CallPart
        title="When a run ends"
        about="Called once for each run that is done or stopped."
        name="whenRunEnds"
        call={programCalls.whenRunEnds}
      />
      <CallPart
        title="When something was handed over"
        about="Called where somebody asked to be told: it was made, it could not be made, or it waits for frames to be patched."
        name="whenHandedOver"
        call={programCalls.whenHandedOver}
      />
      <Part
        title="Webhooks"
        about="Addresses that are told of a run's end, a frame that failed and a finding: signed, and again until they are heard."
      >
        <Webhooks webhooks={settings.webhooks} />
      </Part>
      <Part
        title="Access"
        about="Alone on this machine nobody signs in. Over the network the pages are for people who have a key, and nodes come in by invitation."
      >
        <Flex gap="6">
          {ACCESS_PAGES.map(([href, text]) => (
            <Box key={href} asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
              <NextLink href={href}>{text}</NextLink>
            </Box>
          ))}
        </Flex>
      </Part>
      <Part title="Housekeeping" about="What nobody may ask for again is removed after a while.">
        <Text>
          Lines of logs stay {keep.logDays} days, attempts that were followed by others {keep.attemptDays}{" "}
          days, replaced pictures whose successor is whole {keep.asideDays} days. Frames and their tally stay
          for good.
        </Text>
      </Part>
      <Part
        title="In force"
        about="What goes before: a variable of the environment, the file, what is usual."
      >
        <Values settings={settings} />
      </Part>
    </Box>
  );
}

/** A file that is wrong says its line here, and everything else waits until it is mended. */
export function SettingsPage() {
  const { data, error } = useSettings();
  return (
    <>
      <Header project={null} />
      {data === undefined && error === null && <Loading what="the settings" />}
      {data === undefined && error !== null && (
        <Trouble title="The settings cannot be read" message={messageOf(error)} />
      )}
      {data !== undefined && <Parts settings={data} />}
    </>
  );
}
