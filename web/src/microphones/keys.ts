export const microphonesKey = ["microphones"] as const;
