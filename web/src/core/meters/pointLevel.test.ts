import { describe, expect, it, vi } from "vitest";

const opened = vi.hoisted(() => [] as { of: string | null; values: (data: ArrayBuffer) => void; closed: boolean }[]);
vi.mock("@/core/analysis/analysis", () => ({
  watch: (_: string, of: string | null, __: number, watcher: { values: (data: ArrayBuffer) => void }) => {
    const one = { of, values: watcher.values, closed: false };
    opened.push(one);
    return () => {
      one.closed = true;
    };
  },
}));

const { peakOf, watchPoint } = await import("./pointLevel");

/** As the server writes the topic “point”, behind the number and layout of the look. */
function message(left: number, right: number): ArrayBuffer {
  const buffer = new ArrayBuffer(40);
  const view = new DataView(buffer, 8);
  view.setFloat32(16, left, true);
  view.setFloat32(24, right, true);
  return buffer;
}

describe("the level at a point", () => {
  it("is the louder side of what came last, and nothing of what is no message", () => {
    expect(peakOf(message(-20, -12))).toBe(-12);
    expect(peakOf(message(-6, Number.NEGATIVE_INFINITY))).toBe(-6);
    expect(peakOf(new ArrayBuffer(12))).toBe(Number.NEGATIVE_INFINITY);
  });

  it("is looked at once however many show it, until the last one is gone; what the meters have is not looked at", () => {
    watchPoint("source/a");
    watchPoint("mix/m");
    watchPoint("app/a/out");
    expect(opened).toHaveLength(0);
    const [one, other] = [watchPoint("source/a/raw"), watchPoint("source/a/raw")];
    expect(opened.map((o) => o.of)).toEqual(["source/a/raw"]);
    expect(one.read()).toBeNaN();
    opened[0]?.values(message(-30, -40));
    expect([one.read(), other.read()]).toEqual([-30, -30]);
    one.close();
    expect(opened[0]?.closed).toBe(false);
    other.close();
    expect(opened[0]?.closed).toBe(true);
    watchPoint("source/a/raw").close();
    watchPoint("mix/m/raw");
    expect(opened.map((o) => o.of)).toEqual(["source/a/raw", "source/a/raw", "mix/m/before"]);
  });
});
