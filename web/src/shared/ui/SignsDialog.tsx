import { Dialog } from "./Dialog";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  words: string;
  /** Each sign with what it means. */
  signs: readonly (readonly [sign: string, meaning: string])[];
}

/** What the signs of a screen mean, for whoever sees it for the first time. */
export function SignsDialog({ signs, ...rest }: Props) {
  return (
    <Dialog {...rest}>
      <dl className="grid grid-cols-[8.5rem_1fr] gap-y-2 text-[13px]">
        {signs.map(([sign, meaning]) => (
          <div key={sign} className="contents">
            <dt className="font-medium">{sign}</dt>
            <dd>{meaning}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
