/** @jsxImportSource preact */
import type { JudgedCampaign } from '@/core/tryout/asked';

const FAMILIES = {
  people: 'not these people',
  pages: 'not on this page',
  moment: 'waits for its moment',
  pacing: 'shown often enough',
} as const;
const PARTS: Readonly<Record<string, string>> = { place: 'its place is taken', budget: 'the site’s budget' };
const STATUS: Readonly<Record<string, string>> = {
  draft: 'a draft',
  paused: 'paused',
  live: 'left out',
  scheduled: 'left out',
  ended: 'over',
};

/** Why a campaign is silent, in three words; the first cause of it. */
export function silence({ cause, takes, status, value }: JudgedCampaign): string {
  if (!takes) return STATUS[status] ?? status;
  if (!cause || value === true) return 'at its moment';
  if (value === null && cause.family === 'people') return 'not known yet';
  return PARTS[cause.part] ?? FAMILIES[cause.family];
}

export function Campaigns({
  campaigns,
  chosen,
  shows,
  onChoose,
  onTake,
}: {
  campaigns: readonly JudgedCampaign[];
  chosen: string | undefined;
  /** Campaigns whose message stands on the page. */
  shows: ReadonlySet<string>;
  onChoose: (id: string) => void;
  onTake: (id: string, takes: boolean) => void;
}) {
  const [inside, outside] = [campaigns.filter(({ takes }) => takes), campaigns.filter(({ takes }) => !takes)];
  const line = (campaign: JudgedCampaign) => {
    const isShown = shows.has(campaign.id);
    return (
      <li key={campaign.id} class={campaign.takes ? '' : 'out'}>
        <button
          type="button"
          class="campaign"
          aria-pressed={campaign.id === chosen}
          title={campaign.cause ? `${campaign.cause.asked}: ${campaign.cause.found}` : ''}
          onClick={() => onChoose(campaign.id)}
        >
          <b>{campaign.name}</b>
          <small class={isShown ? 'shows' : ''}>{isShown ? 'showing' : silence(campaign)}</small>
        </button>
        {campaign.id === chosen && !campaign.takes && (
          <button type="button" class="act" onClick={() => onTake(campaign.id, true)}>
            Let it take part
          </button>
        )}
        {campaign.id === chosen && campaign.takes && !['live', 'scheduled'].includes(campaign.status) && (
          <button type="button" class="act" onClick={() => onTake(campaign.id, false)}>
            Leave it out again
          </button>
        )}
      </li>
    );
  };
  return (
    <>
      <h2 id="in-order">Campaigns, in their order</h2>
      <ul aria-labelledby="in-order">{inside.map(line)}</ul>
      {outside.length > 0 && (
        <>
          <h2 id="not-in" style={{ marginTop: '10px' }}>
            Not part of the next release
          </h2>
          <ul aria-labelledby="not-in">{outside.map(line)}</ul>
        </>
      )}
    </>
  );
}
