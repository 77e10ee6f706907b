import { Switch as Primitive } from 'radix-ui';

/** A yes or no. */
export function Switch({
  checked,
  onChange,
  label,
  id,
}: {
  checked: boolean;
  onChange(v: boolean): void;
  label: string;
  id?: string;
}) {
  return (
    <Primitive.Root
      id={id}
      checked={checked}
      onCheckedChange={onChange}
      aria-label={label}
      className="relative h-4.5 w-8 rounded-full border border-line-strong bg-sunk data-[state=checked]:border-umber data-[state=checked]:bg-umber"
    >
      <Primitive.Thumb className="block size-3 translate-x-0.5 rounded-full bg-ink data-[state=checked]:translate-x-4 data-[state=checked]:bg-paper" />
    </Primitive.Root>
  );
}
