import { Fragment, type ReactNode } from 'react';
import { Link, useLocation } from 'wouter';
import { useNowLive } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { usePageColour } from './page';
import { PLACES } from './places';

function InHead({ to, path, children }: { to: string; path: string; children: ReactNode }) {
  return (
    <Link
      href={to}
      aria-current={path.startsWith(to) ? 'page' : undefined}
      className="aria-[current]:border-b-2 aria-[current]:border-ink aria-[current]:font-medium"
    >
      {children}
    </Link>
  );
}

/** One slim line: the wordmark, the places, the edition now live, the command line. */
export function Head({ isAlone }: { isAlone: boolean }) {
  const { info, format } = useShopContext();
  const { data } = useNowLive();
  const [path] = useLocation();
  const [page, turn] = usePageColour();
  const edition = data?.edition;
  return (
    <header
      className={`not-printed flex h-9 shrink-0 items-center gap-6 whitespace-nowrap border-b-[3px] border-double border-ink px-4 ${isAlone ? 'max-[600px]:hidden' : ''}`}
    >
      <Link href="/promotions" className="flex items-center gap-2 text-[15px] font-medium tracking-tight">
        <svg viewBox="0 0 22 16" className="h-4" aria-hidden="true">
          <path d="M1 1h9.2v14H1zM11.8 1H21v14h-9.2z" fill="var(--band)" stroke="var(--ink)" strokeWidth="1.4" />
          <path d="M3 5h5M3 8h5M3 11h3.4" stroke="var(--ink)" strokeWidth="1.2" />
          <path d="M15.6 5H19M14.4 8H19M16.8 11H19" stroke="var(--red)" strokeWidth="1.2" />
        </svg>
        Rapid Ledger
      </Link>
      <nav aria-label="Places" className="flex items-baseline gap-2">
        {(['write', 'shop'] as const).map((group, at) => (
          <Fragment key={group}>
            <span className={`head-word ${at > 0 ? 'ml-3' : ''}`}>{group}</span>
            {PLACES.map(
              (place) =>
                place.head?.group === group && (
                  <InHead key={place.path} to={place.path} path={path}>
                    {place.head.name}
                  </InHead>
                ),
            )}
          </Fragment>
        ))}
      </nav>
      <span className="flex-1" />
      {info.unprotected && (
        <span className="text-doubt" title="There is no sign-in yet: whoever reaches this address can change everything.">
          ⚠ unprotected
        </span>
      )}
      <span className="text-faded max-[1180px]:hidden">{info.name}</span>
      {edition && (
        <span title={`published ${format.moment(edition.publishedAt)}`} data-testid="edition">
          <Link href="/editions" className="hover:underline">
            edition {edition.number} is live
          </Link>
          {data.drafts > 0 && <span className="text-doubt"> · {data.drafts === 1 ? '1 page differs' : `${data.drafts} pages differ`}</span>}
        </span>
      )}
      <button type="button" className="word" onClick={() => window.dispatchEvent(new Event('command-line'))}>
        / command
      </button>
      <button type="button" className="word" onClick={() => window.dispatchEvent(new Event('keys-of-the-page'))}>
        ? keys
      </button>
      <button type="button" className="word" onClick={turn}>
        {page === 'day' ? 'night' : 'day'}
      </button>
    </header>
  );
}
