import { useEffect, useState } from "react";
import { meters, onPaint } from "@/core/meters/meters";

/** Whether a take is being recorded. */
export function useRecording() {
  const [recording, setRecording] = useState(false);
  useEffect(() => onPaint(() => setRecording(meters.frame?.recording ?? false)), []);
  return recording;
}
