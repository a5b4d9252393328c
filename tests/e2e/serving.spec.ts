import { expect, openDesk, test } from "./support/fixtures.ts";

// What the first picture takes, and no more: the rest comes when it is opened.
const mostScript = 192 * 1024;

test("the first picture needs little script, compressed for either kind of browser", async ({ page, stepped }) => {
  await openDesk(page, stepped);
  await expect.poll(() => page.evaluate(() => performance.getEntriesByName("first picture").length)).toBe(1);
  const scripts = await page.evaluate(() => {
    const drawn = performance.getEntriesByName("first picture")[0]?.startTime ?? 0;
    return performance
      .getEntriesByType("resource")
      .filter((r) => r.startTime < drawn && new URL(r.name).pathname.endsWith(".js"))
      .map((r) => r.name);
  });
  for (const encoding of ["br", "gzip"]) {
    let sum = 0;
    for (const url of scripts) {
      const head = await fetch(url, { method: "HEAD", headers: { "Accept-Encoding": encoding } });
      expect(head.headers.get("content-encoding"), url).toBe(encoding);
      expect(head.headers.get("cache-control")).toContain("immutable");
      sum += Number(head.headers.get("content-length"));
    }
    expect(sum, encoding).toBeGreaterThan(50_000);
    expect(sum, encoding).toBeLessThan(mostScript);
  }
});

test("an address leads to the same place after a reload, and the way back goes back", async ({ page, stepped }) => {
  await page.goto(`${stepped.url}/?view=table&at=send/viewers/sea-mic&open=cables`);
  await expect(page.getByRole("dialog", { name: "Cables" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("dialog", { name: "Cables" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("complementary", { name: "Inspector: Sea mic in Viewers" })).toBeVisible();
  await expect(page.getByRole("table").first()).toBeVisible();
  // Whether or not anybody has recorded on this server before.
  const takes = page.getByRole("main").getByRole("heading", { name: "Takes", exact: true });
  await page.getByRole("link", { name: "Takes" }).click();
  await expect(takes).toBeVisible();
  await page.goBack();
  await expect(page.getByRole("complementary", { name: "Inspector: Sea mic in Viewers" })).toBeVisible();
  await page.goForward();
  await expect(takes).toBeVisible();
});

test("what is not there is said so, and is no page", async ({ stepped }) => {
  const html = (r: Response) => r.headers.get("content-type")?.startsWith("text/html");
  const deep = await fetch(`${stepped.url}/a/place/of/tomorrow`);
  expect([deep.status, html(deep)]).toEqual([200, true]);
  for (const path of ["/assets/none.js", "/favicon.none"]) expect((await fetch(stepped.url + path)).status).toBe(404);
  for (const path of ["/api", "/api/", "/api/none"]) {
    const answer = await fetch(stepped.url + path);
    expect([path, answer.status, html(answer)]).toEqual([path, 404, false]);
  }
});

test("a document that cannot be shown takes nothing down but its own part, and the sound goes on", async ({
  page,
  complaints,
  stepped,
}) => {
  let isBroken = false;
  await page.route("**/api/shows/live", async (route) => {
    try {
      const response = await route.fetch();
      const show = (await response.json()) as { mixes: { sends: unknown[] }[] };
      if (isBroken) show.mixes[1]?.sends.pop();
      await route.fulfill({ response, json: show });
    } catch {
      // The page was loaded anew meanwhile, and nobody waits for this answer.
    }
  });
  await openDesk(page, stepped);
  isBroken = true;
  await page.reload();
  await expect(page.getByText("This screen cannot be shown.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Hush" })).toBeVisible();
  isBroken = false;
  await stepped.send("PATCH", "/api/shows/LIVE/mixes/viewers", { gain: -1 });
  await page.reload();
  await expect(page.getByRole("region", { name: "What Viewers gets" })).toBeVisible();
  complaints.splice(0);
});
