"use client";
/** The fields of a new project: one is typed, the others are proposed and may be changed. */
import { Grid, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { NewProjectBody } from "@/contract/project-bodies";
import type { RootView } from "@/contract/project-view";
import { slugOf } from "@/core/plan/proposed-name";
import { ApiFailure, post } from "../live/api";
import { Labelled, TextLine } from "../page/field";
import { size } from "../words";

type Fields = NewProjectBody;

export interface NewProject {
  readonly fields: Fields;
  readonly change: (change: Partial<Fields>) => void;
  /** By field, as the server told them. */
  readonly faults: Readonly<Record<string, string>>;
  /** Makes it. @throws ApiFailure */
  readonly make: () => Promise<string>;
}

/** @param title that is proposed; blank for none */
export function useNewProject(roots: readonly RootView[], title: string): NewProject {
  const [typed, setTyped] = useState<Partial<Fields>>({});
  const [faults, setFaults] = useState<Readonly<Record<string, string>>>({});
  const name = typed.title ?? title;
  // What nobody has typed follows the title.
  const slug = typed.slug ?? slugOf(name);
  const fields: Fields = {
    title: name,
    slug,
    rate: typed.rate ?? "24",
    root: typed.root ?? roots[0]?.name ?? "",
    folder: typed.folder ?? slug,
  };
  return {
    fields,
    faults,
    change: (change) => {
      setTyped((before) => ({ ...before, ...change }));
      setFaults({});
    },
    make: async () => {
      try {
        return (await post<{ slug: string }>("/api/projects", fields)).slug;
      } catch (error) {
        if (error instanceof ApiFailure)
          setFaults(Object.fromEntries(error.faults.map((fault) => [fault.field, fault.message])));
        throw error;
      }
    },
  };
}

export function ProjectFields({
  project: { fields, change, faults },
  roots,
}: {
  readonly project: NewProject;
  readonly roots: readonly RootView[];
}) {
  const root = roots.find((r) => r.name === fields.root);
  return (
    <Grid
      templateColumns={{
        base: "1fr 1fr",
        lg: "minmax(0, 2fr) minmax(0, 1.4fr) 124px minmax(0, 1fr) minmax(0, 2fr)",
      }}
      gap="3"
      alignItems="start"
    >
      <TextLine
        label="Project"
        name="title"
        value={fields.title}
        fault={faults.title}
        onChange={(title) => change({ title })}
      />
      <TextLine
        label="Its name in addresses"
        name="slug"
        isMono
        value={fields.slug}
        fault={faults.slug}
        onChange={(slug) => change({ slug })}
      />
      <TextLine
        label="Frames a second"
        name="rate"
        isMono
        value={fields.rate}
        fault={faults.rate}
        onChange={(rate) => change({ rate })}
      />
      <Labelled
        label="On the root"
        fault={faults.root}
        hint={
          root === undefined
            ? undefined
            : root.freeBytes === null
              ? "cannot be seen"
              : `${size(root.freeBytes)} free`
        }
      >
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            bg="sheet"
            aria-label="On the root"
            value={fields.root}
            onChange={(event) => change({ root: event.target.value })}
          >
            {roots.map(({ name }) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Labelled>
      <TextLine
        label="In the folder"
        name="folder"
        isMono
        value={fields.folder}
        fault={faults.folder}
        onChange={(folder) => change({ folder })}
        hint={
          root === undefined ? undefined : (
            <Text as="span" fontFamily="mono" overflowWrap="anywhere">
              {root.folder}/{fields.folder}
            </Text>
          )
        }
      />
    </Grid>
  );
}
