import { escapeHtml, scriptJson } from "./html";
import { movingPageEnd, movingPageHead, movingPagePicture } from "./moving-page";

test("texts stay texts, inside tags, attributes and scripts", () => {
  expect(escapeHtml(`<b a="'">&`)).toBe("&lt;b a=&quot;&#39;&quot;&gt;&amp;");
  expect(scriptJson({ a: "</script>\u2028" })).toBe('{"a":"\\u003c/script>\\u2028"}');
});

test("nothing is fetched: every address is one of data", () => {
  const page = {
    ...{ title: "HL010 <v001>", rate: { numerator: 24000, denominator: 1001 }, width: 4, height: 2 },
    notes: [],
  };
  const text = movingPageHead(page) + movingPagePicture("1001", "AAAA") + movingPageEnd(page);
  expect(text).not.toMatch(/(src|href)="(?!data:)/);
  expect(text).not.toMatch(/https?:/);
  expect(text).toContain("HL010 &lt;v001&gt;");
  expect(text).toContain("1001 / 24000");
});
