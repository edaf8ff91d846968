// What makes an uncertainty, as horizontal bars; hatched: measured once, shared by all settings.
import type { Schemas } from '@/shared/api/client';
import { Rich } from './Rich';
import './budget.css';

export function Budget({ bars }: { bars: Schemas['BudgetBar'][] }) {
  return (
    <div className="budget">
      {bars.map((bar, i) => (
        <div key={i} style={{ display: 'contents' }}>
          <span title={bar.words}>
            <Rich text={bar.symbol} /> <span className="quiet">{bar.words}</span>
          </span>
          <span className={`budget-bar${bar.shared ? ' shared' : ''}`} aria-hidden="true">
            <i style={{ width: `${bar.share * 100}%` }} />
          </span>
          <span className="mono" style={{ textAlign: 'right' }}>
            {bar.contribution} · {bar.share_text}
          </span>
        </div>
      ))}
    </div>
  );
}
