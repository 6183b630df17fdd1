import { Link } from 'wouter';
import { useNowLive } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { HeadPlaces } from './HeadPlaces';
import { usePageColour } from './page';

/** One slim line: the wordmark, the places, the edition now live, the command line. */
export function Head({ isAlone }: { isAlone: boolean }) {
  const { info, format } = useShopContext();
  const { data } = useNowLive();
  const [page, turn] = usePageColour();
  const edition = data?.edition;
  return (
    <header
      className={`not-printed flex h-9 shrink-0 items-center gap-6 whitespace-nowrap border-b-[3px] max-[899px]:gap-3 border-double border-ink px-4 ${isAlone ? 'max-[600px]:hidden' : ''}`}
    >
      <Link href="/promotions" className="flex items-center gap-2 text-[15px] font-medium tracking-tight">
        <svg viewBox="0 0 22 16" className="h-4" aria-hidden="true">
          <path d="M1 1h9.2v14H1zM11.8 1H21v14h-9.2z" fill="var(--band)" stroke="var(--ink)" strokeWidth="1.4" />
          <path d="M3 5h5M3 8h5M3 11h3.4" stroke="var(--ink)" strokeWidth="1.2" />
          <path d="M15.6 5H19M14.4 8H19M16.8 11H19" stroke="var(--red)" strokeWidth="1.2" />
        </svg>
        <span className="max-[520px]:sr-only">Rapid Ledger</span>
      </Link>
      <HeadPlaces />
      <span className="flex-1" />
      {info.unprotected && (
        <span className="text-doubt" title="There is no sign-in yet: whoever reaches this address can change everything.">
          ⚠ unprotected
        </span>
      )}
      <span className="text-faded max-[1180px]:hidden">{info.name}</span>
      {edition && (
        <span title={`published ${format.moment(edition.publishedAt)}`} data-testid="edition">
          <Link href="/editions" className="inline-block leading-6 hover:underline">
            edition {edition.number}
            <span className="max-[640px]:hidden"> is live</span>
          </Link>
          {data.drafts > 0 && (
            <span className="text-doubt max-[700px]:hidden"> · {data.drafts === 1 ? '1 page differs' : `${data.drafts} pages differ`}</span>
          )}
        </span>
      )}
      <button type="button" className="word min-w-6" onClick={() => window.dispatchEvent(new Event('command-line'))}>
        /<span className="max-[640px]:sr-only"> command</span>
      </button>
      <button type="button" className="word min-w-6" onClick={() => window.dispatchEvent(new Event('keys-of-the-page'))}>
        ?<span className="max-[640px]:sr-only"> keys</span>
      </button>
      <button type="button" className="word" onClick={turn}>
        {page === 'day' ? 'night' : 'day'}
      </button>
    </header>
  );
}
