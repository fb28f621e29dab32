import { memo, type ReactNode } from 'react';
import { Button, Label, ListBox, ListBoxItem, Popover, Select, SelectValue } from 'react-aria-components';

/** One of a few. What is done with a choice is looked up when it is made: it need not be made anew for that. */
export const Choice = memo(Options, (before, after) => before.value === after.value && before.label === after.label && JSON.stringify(before.options) === JSON.stringify(after.options)); // prettier-ignore

function Options({ label, value, options, onChange, quiet = false }: {
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
