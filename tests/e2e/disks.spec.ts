import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, openDesk, test } from "./support/fixtures.ts";
import { givenConnection, Server } from "./support/server.ts";

// Takes that are written to two folders, of which one is a small disk.

interface Told {
  id: string;
  state: string;
  seconds: number;
  folder: string;
  copy: { folder: string; isUsed: boolean; words: string | null } | null;
}

/** How long the tracks in a folder are, as another program reads them. */
function lengths(folder: string): number[] {
  return readdirSync(folder)
    .filter((f) => f.endsWith(".wav"))
    .map((f) =>
      Number(
        execFileSync("ffprobe", [
          ...["-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0"],
          join(folder, f),
        ]).toString(),
      ),
    );
}

for (const which of ["second", "own"] as const)
  test(`the ${which} folder of a take gets full while it is recorded: it goes on in the other, whole, and says so`, async ({
    page,
  }) => {
    const other = mkdtempSync(join(tmpdir(), "kinetra-second-"));
    const small = (data: string) => ({ folder: which === "second" ? other : join(data, "takes"), megabytes: 8 });
    const server = new Server("stepped", givenConnection(), { small });
    try {
      await server.create();
      await openDesk(page, server);
      await page.getByRole("link", { name: "Takes" }).press("Enter");

      // With keys alone; what is no folder is refused, and what was typed stays.
      await page.getByRole("button", { name: "Where a take is written: to one folder" }).press("Enter");
      const dialog = page.getByRole("dialog", { name: "A second folder" });
      const path = dialog.getByRole("textbox", { name: "Folder, its whole path" });
      await path.fill("takes");
      await path.press("Enter");
      await expect(page.getByText("This is no folder.").first()).toBeVisible();
      await expect(path).toHaveValue("takes");
      await path.fill(other);
      await path.press("Enter");
      await expect(dialog).toBeHidden();
      await expect(page.getByRole("button", { name: `Where a take is written: to ${other} too` })).toBeVisible();

      await page.getByRole("button", { name: "Record", exact: true }).first().press("Enter");
      const takes = async () => (await server.get("/api/takes")) as Told[];
      await expect.poll(async () => (await takes()).length).toBe(1);
      await server.step(20);
      expect((await takes())[0]?.state).toBe("Recording");
      await expect(
        page.getByText(which === "second" ? /The second folder takes no more/ : /own folder takes no more/).first(),
      ).toBeVisible();
      // It is told at once, and on the take as long as it is recorded.
      await expect(page.getByText("A take is written to one folder only.").first()).toBeVisible();
      const words = (await takes())[0]?.copy?.words ?? "no words";
      await expect(page.locator("#screen").getByText(words)).toBeVisible();
      await page.getByRole("button", { name: /^Stop/ }).press("Enter");
      await expect(
        page.getByRole("status").filter({ hasText: /^All \d+ tracks are what their names say/ }),
      ).toBeVisible();
      const [take] = await takes();
      expect(take?.state).toBe("Done");
      expect(take?.seconds).toBeGreaterThan(19.9);
      expect(take?.copy?.isUsed).toBe(which === "own");
      await expect(page.locator("#screen").getByText(take?.copy?.words ?? "no words")).toBeVisible();

      // Whole, where it says that it lies.
      expect(take?.folder.startsWith(which === "own" ? other : server.data)).toBe(true);
      const long = lengths(take?.folder ?? "");
      expect(long.length).toBeGreaterThan(1);
      for (const seconds of long) expect(seconds).toBeCloseTo(take?.seconds ?? 0, 3);

      // After a restart it is the same take.
      await server.kill();
      await server.start();
      expect((await takes()).map((t) => [t.id, t.state, t.folder])).toEqual([[take?.id, "Done", take?.folder]]);
    } finally {
      await server.remove();
      rmSync(other, { recursive: true });
    }
  });
