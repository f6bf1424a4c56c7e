import { auditRow } from "./audit";

const line = {
  id: 1,
  at: Date.UTC(2026, 10, 30, 22, 5),
  who: "Mara",
  role: "run",
  did: "POST /api/runs/[id]/stop",
  what: "/api/runs/3/stop",
  status: 200,
} as const;

test("an operation is told in words, with when, who, what and the answer", () => {
  expect(auditRow(line)).toBe("2026-11-30T22:05:00.000Z,Mara,run,stopped a run,/api/runs/3/stop,200\r\n");
});

test("what is not known is blank; a word of its own stays", () => {
  expect(auditRow({ ...line, who: null, role: null, did: "signed in", what: "", status: null })).toBe(
    "2026-11-30T22:05:00.000Z,,,signed in,,\r\n",
  );
});

test.each(['=HYPERLINK("x")', "+1", "-1", "@x", "a\nb", 'a"b', "a,b"])(
  "%j stays one cell and no formula",
  (who) => {
    const row = auditRow({ ...line, who });
    const kept = /^[=+@-]/.test(who) ? `'${who}` : who;
    expect(row).toContain(/[",\n]/.test(kept) ? `,"${kept.replaceAll('"', '""')}",` : `,${kept},`);
  },
);
