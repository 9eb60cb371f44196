'use client';

import { Copy } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { ForSite, Way } from '@/core/install/ways';
import { lineFor, PASSED_ON, policyFor, stubText } from '@/core/install/ways';
import { copy } from './copy';
import { LookAt } from './LookAt';
import { WatchInstall } from './WatchInstall';

const NAMES: Readonly<Record<Way, string>> = {
  plain: 'into its pages',
  tool: 'through another tool that puts scripts in',
  singlePage: 'into an application that changes pages by itself',
  own: 'from an address of its own',
  policy: 'under a content security policy',
  stub: 'with calls before it has loaded',
};

const code = 'whitespace-pre-wrap break-all rounded border border-line bg-bone p-3 font-mono text-[13px]';

/** The line for the way in which a site takes scripts, and a check of each. */
export function Install({ site }: { site: ForSite }) {
  const [way, setWay] = useState<Way>('plain');
  const [event, setEvent] = useState('');
  const [address, setAddress] = useState('');
  const line = lineFor(way, site, { event: event.trim(), address: address.trim() });
  return (
    <section className="sheet p-5" aria-labelledby="script">
      <h2 id="script" className="mb-3 text-lg font-bold">
        The line to put on the site
      </h2>
      <label className="mb-3 flex flex-wrap items-center gap-2">
        It goes
        <select className="field" value={way} onChange={({ target }) => setWay(target.value as Way)}>
          {Object.entries(NAMES).map(([one, name]) => (
            <option key={one} value={one}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {way === 'singlePage' && (
        <label className="mb-3 grid gap-1">
          Event by which the site tells that the page has changed; empty where the address changes with the page
          <input
            className="field font-mono text-[13px]"
            value={event}
            placeholder="app:page"
            onChange={({ target }) => setEvent(target.value)}
          />
        </label>
      )}
      {way === 'own' && (
        <label className="mb-3 grid gap-1">
          Address under which the site passes requests on
          <input
            className="field font-mono text-[13px]"
            value={address}
            placeholder="https://www.example.com/c"
            onChange={({ target }) => setAddress(target.value)}
          />
        </label>
      )}
      <pre className={code}>{line}</pre>
      <button className="act mt-3" onClick={() => void copy(line)}>
        <Copy size={15} aria-hidden="true" /> Copy the line
      </button>
      <div className="mt-3 grid gap-2 text-soft">
        <Advice way={way} site={site} />
      </div>
      <WatchInstall key={way} way={way} address={address.trim()} />
      <LookAt />
    </section>
  );
}

function Advice({ way, site }: { way: Way; site: ForSite }) {
  switch (way) {
    case 'plain':
      return (
        <p>
          Into the <code className="font-mono">head</code> or before the end of the <code className="font-mono">body</code> of every page.
          It waits for nothing and nothing waits for it.
        </p>
      );
    case 'tool':
      return <p>As a tag of HTML that runs on every page. It puts the script in itself, whatever the tool makes of attributes.</p>;
    case 'singlePage':
      return (
        <p>
          A page that changes its path, its query or a route in its fragment is noticed without more. The event is one that the window or
          the document hears: <code className="font-mono">dispatchEvent(new Event(&quot;app:page&quot;))</code>
        </p>
      );
    case 'own':
      return (
        <p>
          The site’s server passes on to the collector, below that address: <code className="font-mono">{PASSED_ON.join(' ')}</code>. The
          visitor’s address has to come along in <code className="font-mono">x-forwarded-for</code>.
        </p>
      );
    case 'policy':
      return (
        <>
          <p>The policy has to allow, besides what it does:</p>
          <pre className={`${code} text-ink`}>{policyFor(site)}</pre>
          <p>
            With nonces, put the response’s own into the tag; the address is needed all the same, for the parts that the script loads,
            unless the policy says strict-dynamic. No inline style is needed. The last directive tells here what a browser keeps away.
          </p>
          <Hash />
        </>
      );
    case 'stub':
      return (
        <p>
          Calls such as <code className="font-mono">crindle.did(&quot;purchase&quot;)</code> are kept until the script is there. To try it,
          call <code className="font-mono">crindle.did(&quot;crindle_here&quot;)</code> right below.
        </p>
      );
  }
}

/** A policy can allow the stub by its hash; the script itself changes with each version and is allowed by its address. */
function Hash() {
  const [hash, setHash] = useState('');
  useEffect(() => {
    // Without a secure context a browser has no way to tell.
    if (!crypto.subtle) return;
    void crypto.subtle
      .digest('SHA-256', new TextEncoder().encode(stubText()))
      .then((bytes) => setHash(`'sha256-${btoa(String.fromCharCode(...new Uint8Array(bytes)))}'`));
  }, []);
  return hash ? (
    <p>
      The stub’s four lines are allowed by <code className="break-all font-mono text-xs">{hash}</code>
    </p>
  ) : null;
}
