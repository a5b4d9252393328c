import { Check, Copy } from "lucide-react";
import { useState } from "react";
import { tellWrong } from "@/core/notices/notices";
import { Button } from "@/shared/ui/Button";
import { Word } from "@/shared/ui/Word";
import { useSetStation, useStation } from "./air";

/** The stand-in for a station's server: to try going on air, and to see it fail. */
export function Station() {
  const station = useStation().data;
  const set = useSetStation();
  const [copied, setCopied] = useState(false);
  if (!station) return null;
  const wish = { isOn: station.isOn, refusal: station.refusal ?? null, bytesASecond: station.bytesASecond ?? null };
  const change = (some: Partial<typeof wish>) => set.mutate({ ...wish, ...some });
  return (
    <section aria-label="Practice station" className="mt-6 max-w-5xl">
      <h2 className="text-[15px] font-semibold">Practice station</h2>
      <p className="text-[14px] leading-7">
        A stand-in for a station’s server, which only this computer reaches, to try things on. It{" "}
        <Word
          label="The practice station"
          words={station.isOn ? `is there, at 127.0.0.1, port ${station.port}` : "is switched off"}
          items={[
            { words: "is there", chosen: station.isOn, onSelect: () => change({ isOn: true }) },
            {
              words: "is switched off",
              hint: "Whoever sends or listens is cut off",
              chosen: !station.isOn,
              onSelect: () => change({ isOn: false }),
            },
          ]}
        />
        ,{" "}
        <Word
          label="Whom the practice station lets in"
          words={station.refusal ? `says to all: “${station.refusal}”` : "lets in who knows the password"}
          items={[
            {
              words: "lets in who knows the password",
              chosen: !station.refusal,
              onSelect: () => change({ refusal: null }),
            },
            {
              words: "says no",
              hint: "As a server does that is full",
              chosen: Boolean(station.refusal),
              onSelect: () => change({ refusal: "Too many sources" }),
            },
          ]}
        />{" "}
        and{" "}
        <Word
          label="How much the practice station takes"
          words={station.bytesASecond ? `takes ${station.bytesASecond} bytes a second` : "takes all that comes"}
          items={[
            {
              words: "takes all that comes",
              chosen: !station.bytesASecond,
              onSelect: () => change({ bytesASecond: null }),
            },
            ...[4_000, 12_000].map((bytes) => ({
              words: `takes ${bytes} bytes a second`,
              hint: "As a line does that is too slow",
              chosen: station.bytesASecond === bytes,
              onSelect: () => change({ bytesASecond: bytes }),
            })),
          ]}
        />
        . Its user is “source”, its password is <code className="rounded bg-raised px-1">{station.password}</code>{" "}
        <Button
          small
          className="h-6"
          icon={copied ? <Check size={12} /> : <Copy size={12} />}
          onClick={() => void navigator.clipboard.writeText(station.password).then(() => setCopied(true), tellWrong)}
        >
          {copied ? "Copied" : "Copy it"}
        </Button>
      </p>
      {station.isOn && station.mounts.length === 0 && <p className="text-[13px] text-quiet">Nobody sends there now.</p>}
      <ul aria-label="What the practice station gives">
        {station.mounts.map((mount) => (
          <li key={mount.path} className="text-[13px]">
            <span className="font-medium">{mount.song ?? (mount.name || "Something without a name")}</span> at{" "}
            <span className="text-quiet">
              http://127.0.0.1:{station.port}
              {mount.path}
            </span>
            ,{" "}
            {mount.listeners === 0
              ? "nobody listens"
              : mount.listeners === 1
                ? "one listens"
                : `${mount.listeners} listen`}
            .
          </li>
        ))}
      </ul>
    </section>
  );
}
