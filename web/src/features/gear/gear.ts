import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  answer,
  api,
  type EndChoice,
  type Gain,
  type Gear,
  type GearDevice,
  type NewSource,
  type SourceInput,
} from "@/core/api/client";
import { takeGearBack } from "@/core/commands/computer";
import { to, useStep } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";
import { windowId, windowName } from "@/core/realtime/identity";
import { gearKey, useGear } from "./known";

/** How devices' clocks run against the engine's: looked at while somebody looks. */
export function useClocks() {
  return (
    useQuery({
      queryKey: ["gear clocks"],
      queryFn: () => answer(api.GET("/api/gear/clocks")),
      refetchInterval: 2000,
    }).data ?? []
  );
}

/** What was changed of the computer, oldest first. */
export function useGearHistory() {
  const sequence = useGear().data?.sequence;
  return useQuery({ queryKey: ["gear history", sequence], queryFn: () => answer(api.GET("/api/gear/history")) });
}

const headers = { "X-Window": windowId, "X-Window-Name": windowName };

// One after the other, as they were pressed; what comes back is how the computer is.
function useGearChange<T>(send: (change: T) => Promise<Gear>) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "gear" },
    mutationFn: send,
    onSuccess: (gear) =>
      queries.setQueryData<Gear>(gearKey, (known) => (known && known.sequence > gear.sequence ? known : gear)),
    onError: (error) => {
      void queries.invalidateQueries({ queryKey: gearKey });
      tellWrong(error);
    },
  });
}

export function useSetPort() {
  return useGearChange(
    ({ app, port, choice, restart }: { app: string; port: string; choice: EndChoice; restart?: boolean }) =>
      answer(
        api.PUT("/api/gear/apps/{app}/ports/{port}", {
          params: { path: { app, port } },
          headers,
          body: { choice, restart: restart ?? false },
        }),
      ),
  );
}

export interface AppChange {
  isRunning?: boolean;
  isPlaying?: boolean;
  evensVoices?: boolean;
  tests?: boolean;
  volume?: Gain;
}

export function useChangeApp() {
  return useGearChange(({ app, change }: { app: string; change: AppChange }) =>
    answer(api.PATCH("/api/gear/apps/{app}", { params: { path: { app } }, headers, body: change })),
  );
}

export type DeviceChange = Partial<Pick<GearDevice, "isPresent" | "rate" | "bufferFrames" | "isMonitoring">> & {
  busyWith?: string;
};

export function useChangeDevice() {
  return useGearChange(({ device, change }: { device: string; change: DeviceChange }) =>
    answer(api.PATCH("/api/gear/devices/{device}", { params: { path: { device } }, headers, body: change })),
  );
}

export function useChangeInput() {
  return useGearChange(
    ({
      device,
      input,
      change,
    }: {
      device: string;
      input: number;
      change: { gain?: number; lowCut?: boolean; isExposed?: boolean };
    }) =>
      answer(
        api.PATCH("/api/gear/devices/{device}/inputs/{input}", {
          params: { path: { device, input } },
          headers,
          body: change,
        }),
      ),
  );
}

export function useSetDefault() {
  return useGearChange(({ role, end }: { role: string; end: string }) =>
    answer(api.PUT("/api/gear/roles/{role}", { params: { path: { role } }, headers, body: { end } })),
  );
}

export function useJoinDevices() {
  return useGearChange(({ name, members }: { name: string; members: string[] }) =>
    answer(api.POST("/api/gear/devices", { headers, body: { name, members } })),
  );
}

export function usePartDevices() {
  return useGearChange((device: string) =>
    answer(api.DELETE("/api/gear/devices/{device}", { params: { path: { device } }, headers })),
  );
}

/** Takes back one change of the computer. */
export function useTakeGearBack() {
  return useGearChange(takeGearBack);
}

/** Makes so what the show wants: all of it, or one thing. */
export function useFulfil() {
  return useGearChange((which: { role?: Gear["roles"][number]["role"]; app?: string; port?: string }) =>
    answer(api.POST("/api/gear/fulfil", { headers, body: which })),
  );
}

/** Puts back what stood before the show was opened. */
export function usePutBack() {
  return useGearChange<void>(() => answer(api.POST("/api/gear/put-back", { headers })));
}

/** What the show wants a default to be; null: it does not matter. */
export function useWishRole() {
  return useStep(({ role, end }: { role: string; end: string | null }, seen) =>
    answer(api.PUT("/api/shows/{show}/wishes/roles/{role}", { ...to(seen, { role }), body: { end } })),
  );
}

/** What the show wants a program's port to be set to; null: it does not matter. */
export function useWishPort() {
  return useStep(({ app, port, choice }: { app: string; port: string; choice: EndChoice | null }, seen) =>
    answer(
      api.PUT("/api/shows/{show}/wishes/apps/{app}/ports/{port}", { ...to(seen, { app, port }), body: { choice } }),
    ),
  );
}

export function useChangeWishes() {
  return useStep((change: { always?: boolean; putBack?: boolean }, seen) =>
    answer(api.PATCH("/api/shows/{show}/wishes", { ...to(seen), body: change })),
  );
}

/** Adds a source that takes its sound from the computer. */
export function useTakeSource() {
  return useStep((input: SourceInput, seen) =>
    answer(api.POST("/api/shows/{show}/sources/taken", { ...to(seen), body: { input } })),
  );
}

/** Adds one with a name and a kind, or several at once. */
export function useAddTaken() {
  return useStep((body: NewSource, seen) => answer(api.POST("/api/shows/{show}/sources/taken", { ...to(seen), body })));
}

/** Another input in its place: all else of the source stays. */
export function useRepoint() {
  return useStep(({ source, input }: { source: string; input: SourceInput }, seen) =>
    answer(api.PATCH("/api/shows/{show}/sources/{source}", { ...to(seen, { source }), body: { input } })),
  );
}

/** Makes a cable. */
export function useMakeCable() {
  return useStep((name: string, seen) => answer(api.POST("/api/shows/{show}/cables", { ...to(seen), body: { name } })));
}
