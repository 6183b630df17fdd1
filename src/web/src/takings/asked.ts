import { useSearchParams } from 'wouter';
import { useShopContext } from '../shop/shop';

/** What is asked for: which days, beside which, with orders from before or without, and whose page lies open. All of it is in the address. */
export type Asked = {
  stretch: string;
  from: string;
  to: string;
  beside: string;
  brought: boolean;
  promotion: string;
};

const DAY = 86_400_000;

/** The stretches that have a name. */
export const STRETCHES = [
  { value: 'today', words: 'today' },
  { value: 'week', words: 'this week' },
  { value: 'month', words: 'this month' },
  { value: '28', words: 'the last 28 days' },
  { value: 'year', words: 'the last 365 days' },
  { value: 'days', words: 'days of my own' },
];

export function useAsked(): [Asked, (change: Partial<Asked>) => void] {
  const [query, setQuery] = useSearchParams();
  const { info, format } = useShopContext();
  const today = format.toLocal(info.demoClock ? info.now : Date.now()).slice(0, 10);
  const stretch = query.get('stretch') ?? '28';
  const [from, to] = stretch === 'days' ? [query.get('from') ?? before(today, 27), query.get('to') ?? today] : daysOf(stretch, today);
  const asked = {
    stretch,
    from,
    to,
    beside: query.get('beside') ?? '',
    brought: query.get('brought') === 'true',
    promotion: query.get('p') ?? '',
  };
  const put = (change: Partial<Asked>) => {
    const { promotion, brought, stretch: named, ...days } = { ...asked, ...change };
    const next: Record<string, string> = { stretch: named };
    if (named === 'days') Object.assign(next, { from: days.from, to: days.to });
    if (days.beside) next.beside = days.beside;
    if (brought) next.brought = 'true';
    if (promotion) next.p = promotion;
    setQuery(next, { replace: true });
  };
  return [asked, put];
}

function daysOf(stretch: string, today: string): [from: string, to: string] {
  if (stretch === 'today') return [today, today];
  if (stretch === 'week') return [before(today, (new Date(`${today}T00:00Z`).getUTCDay() + 6) % 7), today];
  if (stretch === 'month') return [`${today.slice(0, 8)}01`, today];
  return [before(today, stretch === 'year' ? 364 : 27), today];
}

const before = (day: string, days: number) => new Date(Date.parse(`${day}T00:00Z`) - days * DAY).toISOString().slice(0, 10);
