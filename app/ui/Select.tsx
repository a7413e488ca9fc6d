/** A choice among few: the browser's own select in our clothes. */
interface SelectProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [value: string, name: string])[];
  onChange: (value: T) => void;
  className?: string;
  disabled?: boolean;
}

export function Select<T extends string>({
  label,
  value,
  options,
  onChange,
  className = '',
  disabled,
}: SelectProps<T>) {
  return (
    <select
      className={`field ${className}`}
      aria-label={label}
      title={label}
      value={value}
      disabled={disabled}
      onChange={(e) => onChange(e.target.value as T)}
    >
      {options.map(([v, name]) => (
        <option key={v} value={v}>
          {name}
        </option>
      ))}
    </select>
  );
}
