import type { Processor, ProcessorType } from "@/core/api/client";
import { storedValue } from "@/shared/forms/parameters";
import { ParameterRow } from "./ParameterRow";
import type { useTurning } from "./turning";

interface Props {
  processor: Processor;
  type: ProcessorType;
  turning: ReturnType<typeof useTurning>;
}

/** All parameters of a processor, in numbers. */
export function ParameterRows({ processor, type, turning: { preview, store, editing } }: Props) {
  return type.parameters.map((parameter) => (
    <ParameterRow
      key={parameter.key}
      parameter={parameter}
      processor={processor.id}
      value={storedValue(parameter, processor.values)}
      onPreview={(value) => preview(parameter.key, value)}
      onChange={(value) => store({ [parameter.key]: value })}
      onEditing={editing}
    />
  ));
}
