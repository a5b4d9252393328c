import type { Gear, GearRole, Show } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import type { MenuItem } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { useFulfil, useSetDefault, useWishRole } from "./gear";

const begins: Record<GearRole["role"], string> = {
  Playback: "Sound plays on",
  Recording: "recording takes",
  CallsPlayback: "calls play on",
  CallsRecording: "calls take",
};

/** The defaults, as one line of four. */
export function RolesLine({ gear, show }: { gear: Gear; show: Show }) {
  return (
    <p className="flex flex-wrap items-baseline gap-x-6 gap-y-1 py-1.5 text-[14px] leading-6">
      {gear.roles.map((role) => (
        <RoleWords key={role.role} gear={gear} show={show} role={role} />
      ))}
    </p>
  );
}

function RoleWords({ gear, show, role }: { gear: Gear; show: Show; role: GearRole }) {
  const set = useSetDefault();
  const wish = useWishRole();
  const fulfil = useFulfil();
  const plays = role.role === "Playback" || role.role === "CallsPlayback";
  const unmet = gear.unmet.find((u) => u.role === role.role);
  const wished = show.wishes.roles.find((r) => r.role === role.role);
  const items: MenuItem[] = [
    ...gear.ends
      .filter((e) => (plays ? e.plays : e.sounds))
      .map((e) => ({
        words: e.name,
        hint: e.why ?? undefined,
        group: e.end.startsWith("cable/") ? "Cables" : "Devices",
        chosen: e.end === role.end,
        disabled: e.why !== null,
        onSelect: () => set.mutate({ role: role.role, end: e.end }),
      })),
    ...(role.end && wished?.end !== role.end
      ? [
          {
            words: "This show wants it so",
            group: "This show",
            onSelect: () => wish.mutate({ role: role.role, end: role.end }),
          },
        ]
      : []),
    ...(wished
      ? [
          {
            words: "It does not matter to this show",
            group: "This show",
            onSelect: () => wish.mutate({ role: role.role, end: null }),
          },
        ]
      : []),
  ];
  return (
    <span className={unmet ? "text-lamp-ink" : ""}>
      {begins[role.role]} <Word label={begins[role.role]} words={role.name} items={items} quiet={!role.isThere} />
      {!role.isThere && role.end && <span className="ml-1 text-xs text-wrong">not there now</span>}
      {unmet && (
        <span className="ml-2 text-xs">
          this show wants {unmet.words}{" "}
          {unmet.obstacle ? (
            <span className="text-wrong">{unmet.obstacle}</span>
          ) : (
            <Button
              small
              className="h-6"
              disabled={fulfil.isPending}
              onClick={() => fulfil.mutate({ role: role.role })}
              aria-label={`Put back: ${begins[role.role]} ${unmet.words}`}
            >
              Put back
            </Button>
          )}
        </span>
      )}
    </span>
  );
}
