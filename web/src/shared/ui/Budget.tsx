// What makes an uncertainty, as horizontal bars; hatched: measured once, shared by all settings.
import type { Schemas } from '@/shared/api/client';
import { Rich } from './Rich';
import './budget.css';
import { Typeset } from '@/shared/ui/Typeset';

export function Budget({ bars }: { bars: Schemas['BudgetBar'][] }) {
  return (
    <ul className="budget">
      {bars.map((bar, i) => (
        <li key={i}>
          <span>
            <Rich text={bar.symbol} />{' '}
            <span className="quiet">
              <Typeset text={bar.words} />
            </span>
          </span>
          <span className="budget-share">
            {bar.contribution} <b>{bar.share_text}</b>
          </span>
          <span className={`budget-bar${bar.shared ? ' shared' : ''}`} aria-hidden="true">
            <i style={{ width: `${bar.share * 100}%` }} />
          </span>
        </li>
      ))}
    </ul>
  );
}
