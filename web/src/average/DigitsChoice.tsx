// With how many digits the values of a derived quantity are written.
import { InputNumber, Select } from 'antd';
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';

const DIGITS = [
  { value: 'automatic', label: 'as its ± asks' },
  { value: 'decimals', label: 'decimals' },
  { value: 'figures', label: 'significant figures' },
  { value: 'scientific', label: 'figures, power of ten' },
] as const;
type DigitsKind = (typeof DIGITS)[number]['value'];
type DigitsCount = Quantity['digits']['count'];

/** How the values are written. It changes nothing of the numbers themselves. */
export function DigitsChoice({ quantity }: { quantity: Quantity }) {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  const latest = waiting.map((w) => w.edit).findLast((e) => e.type === 'choose_digits' && e.quantity === quantity.id);
  const { kind, count } = latest?.type === 'choose_digits' ? latest : quantity.digits;
  const choose = (next: { kind?: DigitsKind; count?: DigitsCount }) => store.edit({ type: 'choose_digits', quantity: quantity.id, kind, count, ...next });
  const least = kind === 'decimals' ? 0 : 1;
  return (
    <div>
      <dt>written</dt>
      <dd className="derived-digits">
        {kind !== 'automatic' && (
          <InputNumber
            size="small"
            aria-label={`How many ${kind === 'decimals' ? 'decimals' : 'significant figures'}`}
            min={least}
            max={10}
            precision={0}
            value={count}
            disabled={!state.can_edit}
            onChange={(n) => {
              if (n !== null) choose({ count: n });
            }}
          />
        )}
        <Select<DigitsKind>
          size="small"
          variant="borderless"
          aria-label={`How the values of ${quantity.name} are written`}
          value={kind}
          disabled={!state.can_edit}
          options={[...DIGITS]}
          popupMatchSelectWidth={false}
          onChange={(next) => choose({ kind: next })}
        />
      </dd>
    </div>
  );
}
