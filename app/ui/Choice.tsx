/** One of a few, side by side. */
import { ToggleGroup } from 'radix-ui';

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [value: T, name: string, about?: string])[];
  onChange: (value: T) => void;
  about?: string;
}

export function Choice<T extends string>({ label, value, options, onChange, about }: ChoiceProps<T>) {
  return (
    <div className="flex items-center gap-2" title={about}>
      <span className="w-22 shrink-0">{label}</span>
      <ToggleGroup.Root
        type="single"
        className="flex"
        aria-label={label}
        value={value}
        onValueChange={(v) => v && onChange(v as T)}
      >
        {options.map(([id, name, tip]) => (
          <ToggleGroup.Item key={id} value={id} className="button -ml-px first:ml-0" title={tip}>
            {name}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </div>
  );
}
