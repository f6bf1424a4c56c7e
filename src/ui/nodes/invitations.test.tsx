import { fireEvent, screen, waitFor } from "@testing-library/react";
import type { InvitationsView } from "@/contract/invitation-view";
import { renderPart, shotParts } from "../../../tests/support/components";
import { Invitations } from "./invitations";

const view = (change: Partial<InvitationsView> = {}): InvitationsView => ({
  listens: "192.168.1.20:4311",
  roots: { frames: "/srv/frames", films: "/srv/films" },
  invitations: [
    { name: "mole-1", state: "joined", by: "Mara", at: 0, revoked: null },
    { name: "mole-9", state: "revoked", by: null, at: 0, revoked: { by: "Jon", at: 0 } },
  ],
  ...change,
});

/** What the page asked for, with what it sent. */
let asked: string[] = [];
const before = global.fetch;
afterEach(() => (global.fetch = before));
function serve(answer: InvitationsView): void {
  asked = [];
  global.fetch = jest.fn((path: string, { method = "GET", body }: RequestInit = {}) => {
    if (method !== "GET") asked.push(`${method} ${path} ${typeof body === "string" ? body : ""}`.trim());
    const told =
      method === "POST" ? { line: "plain-tally join tally1.abc" } : method === "GET" ? answer : { ok: true };
    return Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve(told) });
  }) as never;
}

test("a node is invited for the shares that it has, and the line is shown once with its name", async () => {
  serve(view());
  renderPart(<Invitations />, shotParts(), true);
  const field = await screen.findByLabelText("Node of another machine");
  fireEvent.change(field, { target: { value: "mole-2" } });
  fireEvent.change(screen.getByLabelText("films lies there at"), { target: { value: "/mnt/films" } });
  fireEvent.click(screen.getByText("Invite"));
  expect((await screen.findByTestId("invitation-line")).textContent).toContain("plain-tally join tally1.abc");
  expect(screen.getByTestId("invitation-line").textContent).toContain("the machine of mole-2");
  expect(asked).toEqual([
    'POST /api/nodes/invitations {"name":"mole-2","roots":{"films":"/mnt/films"},"address":null,"again":false}',
  ]);
  // Another click must not turn out whoever joins by it.
  expect((field as HTMLInputElement).value).toBe("");
});

test("one whose key is good is only invited again by that word, one that was turned out as anybody", async () => {
  serve(view());
  renderPart(<Invitations />, shotParts(), true);
  const field = await screen.findByLabelText("Node of another machine");
  fireEvent.change(field, { target: { value: "mole-1" } });
  expect(screen.getByText("Invite again, with another key")).toBeTruthy();
  fireEvent.change(field, { target: { value: "mole-9" } });
  expect(screen.getByText("Invite")).toBeTruthy();
});

test("a key is taken away after it was asked once more", async () => {
  serve(view());
  renderPart(<Invitations />, shotParts(), true);
  fireEvent.click(await screen.findByText("Revoke its key…"));
  expect(asked).toEqual([]);
  fireEvent.click(screen.getByText("Take its key away"));
  await waitFor(() => expect(asked).toEqual(["DELETE /api/nodes/invitations/mole-1"]));
});

test("names and folders that none can be are told where they are typed", async () => {
  serve(view());
  renderPart(<Invitations />, shotParts(), true);
  fireEvent.change(await screen.findByLabelText("Node of another machine"), { target: { value: "a b" } });
  fireEvent.change(screen.getByLabelText("frames lies there at"), { target: { value: "mnt" } });
  expect(screen.getByText("Letters, digits, - and _.")).toBeTruthy();
  expect(screen.getByText("A whole path, from / on.")).toBeTruthy();
  expect(screen.getByText<HTMLButtonElement>("Invite").disabled).toBe(true);
});

test("where nothing listens it says how, and offers nothing that would fail", async () => {
  serve(view({ listens: null, invitations: [] }));
  renderPart(<Invitations />, shotParts(), true);
  expect(await screen.findByText(/--listen ADDRESS/)).toBeTruthy();
  expect(screen.queryByLabelText("Node of another machine")).toBeNull();
});
