import type { InputHTMLAttributes } from 'react';

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'value'> {
  label: string;
  value: string;
  onText: (text: string) => void;
}

/** A line of text with its label above. */
export function TextField({ label, onText, ...input }: Props) {
  return (
    <label className="flex flex-col gap-1 text-ink-2">
      {label}
      <input {...input} className="field text-ink" onChange={(e) => onText(e.target.value)} />
    </label>
  );
}
