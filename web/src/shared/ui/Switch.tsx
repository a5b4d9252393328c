import { Switch as RadixSwitch } from "radix-ui";
import { useId } from "react";

interface Props {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
}

export function Switch({ label, on, onChange }: Props) {
  const id = useId();
  const control = (
    <RadixSwitch.Root
      id={id}
      checked={on}
      onCheckedChange={onChange}
      className="relative h-5 w-9 shrink-0 rounded-full border border-strong bg-ground data-[state=checked]:border-ink data-[state=checked]:bg-ink"
    >
      <RadixSwitch.Thumb className="block h-3.5 w-3.5 translate-x-0.5 rounded-full bg-strong transition-transform data-[state=checked]:translate-x-[1.1rem] data-[state=checked]:bg-ground" />
    </RadixSwitch.Root>
  );
  return (
    <div className="grid h-8 grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2">
      <label htmlFor={id} className="text-[13px] text-quiet">
        {label}
      </label>
      {control}
    </div>
  );
}
