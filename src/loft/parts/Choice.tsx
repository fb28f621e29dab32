import type { ReactNode } from 'react';
import { Button, Label, ListBox, ListBoxItem, Popover, Select, SelectValue } from 'react-aria-components';

/** One of a few. */
export function Choice({ label, value, options, onChange, quiet = false }: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  /** The label is for screen readers alone. */
  quiet?: boolean;
}): ReactNode {
  return (
    <Select className="choice" value={value} onChange={(key) => onChange(String(key))} {...(quiet ? { 'aria-label': label } : {})}>
      {quiet ? null : <Label>{label}</Label>}
      <Button>
        <SelectValue />
        <span aria-hidden="true">▾</span>
      </Button>
      <Popover className="popover">
        <ListBox>
          {options.map(([id, text]) => (
            <ListBoxItem key={id} id={id} textValue={text}>
              {text}
            </ListBoxItem>
          ))}
        </ListBox>
      </Popover>
    </Select>
  );
} // prettier-ignore
