export const showsKey = ["shows"] as const;
