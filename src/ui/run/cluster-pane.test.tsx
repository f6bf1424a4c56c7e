import { fireEvent, screen, waitFor } from "@testing-library/react";
import type { ClusterView, DispatchView } from "@/contract/cluster";
import { renderPart, RUN, shotParts } from "../../../tests/support/components";
import { ClusterPane } from "./cluster-pane";

const CLUSTER: ClusterView = {
  isDeclared: true,
  fault: null,
  partitions: [
    { name: "renders", isUsual: true, machines: 40 },
    { name: "night", isUsual: false, machines: 1 },
  ],
};
const SENT: DispatchView = {
  ...{ frames: "1-8", partition: "night", minutes: 90, memoryMb: null },
  ...{
    jobs: [812, 813],
    waits: 6,
    held: 0,
    works: 2,
    reason: "Resources",
    fault: null,
    sentBy: "Mara",
    sentAt: 0,
  },
};

/** What the page asked for, with what it sent. */
let asked: string[] = [];
const before = global.fetch;
afterEach(() => (global.fetch = before));
function serve(answer: ClusterView, refusal: string | null = null): void {
  asked = [];
  global.fetch = jest.fn((path: string, { method = "GET", body }: RequestInit = {}) => {
    if (method !== "GET") asked.push(`${method} ${path} ${typeof body === "string" ? body : ""}`.trim());
    const isRefused = method !== "GET" && refusal !== null;
    const told = isRefused ? { error: { code: "cluster-refused", message: refusal, faults: [] } } : answer;
    return Promise.resolve({
      ok: !isRefused,
      status: isRefused ? 422 : 200,
      json: () => Promise.resolve(told),
    });
  }) as never;
}

test("a run is sent with what was typed, and blank is as the cluster has it", async () => {
  serve(CLUSTER);
  renderPart(<ClusterPane run={RUN} />, shotParts(), true);
  fireEvent.change(await screen.findByLabelText("Minutes a frame may take"), { target: { value: "ninety" } });
  expect(screen.getByText("A whole number of minutes")).toBeTruthy();
  expect(screen.getByText<HTMLButtonElement>("Send run 3 to the cluster").disabled).toBe(true);
  fireEvent.change(screen.getByLabelText("Minutes a frame may take"), { target: { value: "90" } });
  fireEvent.change(screen.getByLabelText("Frames"), { target: { value: "1-8" } });
  fireEvent.click(screen.getByText("Send run 3 to the cluster"));
  await waitFor(() =>
    expect(asked).toEqual([
      'POST /api/runs/3/cluster {"frames":"1-8","partition":null,"minutes":90,"memoryMb":null}',
    ]),
  );
});

test("what the cluster refuses is told where one looks, and nothing that was typed is lost", async () => {
  serve(CLUSTER, "The batch system did not take it: Requested node configuration is not available");
  renderPart(<ClusterPane run={RUN} />, shotParts(), true);
  fireEvent.change(await screen.findByLabelText("Frames"), { target: { value: "5" } });
  fireEvent.click(screen.getByText("Send run 3 to the cluster"));
  expect(await screen.findByText(/Requested node configuration/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Frames").value).toBe("5");
});

test("a run that is there tells how it stands, and is taken back by one click", async () => {
  serve(CLUSTER);
  renderPart(<ClusterPane run={{ ...RUN, dispatch: SENT }} />, shotParts(), true);
  expect(screen.getByText("6 frames (Resources)")).toBeTruthy();
  expect(screen.getByText("812, 813")).toBeTruthy();
  expect(screen.getByText("machines of night and 90 min a frame")).toBeTruthy();
  fireEvent.click(screen.getByText("Take run 3 back"));
  await waitFor(() => expect(asked).toEqual(["DELETE /api/runs/3/cluster"]));
});

test("a cluster that does not answer says so instead of a form that would fail", async () => {
  serve({ ...CLUSTER, partitions: [], fault: "The batch system does not answer: no route" });
  renderPart(<ClusterPane run={RUN} />, shotParts(), true);
  expect(await screen.findByText(/no route/)).toBeTruthy();
  expect(screen.queryByLabelText("Frames")).toBeNull();
});
