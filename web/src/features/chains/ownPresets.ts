import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api, type OwnPreset, type Processor } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { refetchOn } from "@/core/realtime/hub";

const presetsKey = ["presets"] as const;
let follows = false;

/** The chains that people have kept, by name. */
export function useOwnPresets() {
  const queries = useQueryClient();
  useEffect(() => {
    if (!follows) refetchOn(queries, "PresetsChanged", presetsKey);
    follows = true;
  }, [queries]);
  return useQuery({ queryKey: presetsKey, queryFn: () => answer(api.GET("/api/presets")) });
}

/** The address of a kept chain's file. */
export function presetUrl(preset: string): string {
  return `/api/presets/${preset}/file`;
}

type Change =
  | { kind: "keep"; name: string; says: string; chain: Processor[] }
  | { kind: "change"; preset: OwnPreset["id"]; name: string; says: string }
  | { kind: "remove"; preset: OwnPreset["id"] }
  /** A chain file. */
  | { kind: "bringIn"; text: string };

/** Keeps a chain, renames, forgets and brings in those that are kept. */
export function usePresetChange() {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: "presets" },
    mutationFn: async (change: Change): Promise<unknown> => {
      switch (change.kind) {
        case "keep": {
          const { name, says, chain } = change;
          return answer(api.POST("/api/presets", { body: { name, says, chain } }));
        }
        case "change": {
          const { preset, name, says } = change;
          return answer(api.PATCH("/api/presets/{preset}", { params: { path: { preset } }, body: { name, says } }));
        }
        case "remove":
          return answer(api.DELETE("/api/presets/{preset}", { params: { path: { preset: change.preset } } }));
        case "bringIn":
          return answer(
            api.POST("/api/presets/file", {
              body: change.text as never,
              bodySerializer: (body) => body as unknown as string,
              headers: { "Content-Type": "application/json" },
            }),
          );
      }
    },
    onSettled: () => void queries.invalidateQueries({ queryKey: presetsKey }),
    onError: tellWrong,
  });
}
