import { useQuery } from '@tanstack/react-query';
import { useRouterState } from '@tanstack/react-router';
import { useState } from 'react';
import Markdown from 'react-markdown';
import remarkGfm from 'remark-gfm';
import { CopyButton } from '../kit/Copy';
import { Waiting } from '../kit/Notice';
import { Panel, Section } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { forPath, type GuidePart, readGuide, search } from './guide';
import { KEYS } from './keys';

/** The guide beside what one is at: its page for this screen, a search, the keys, and a way to ask somebody. */
export function HelpPanel({ about, onClose }: { about: string | undefined; onClose(): void }) {
  const path = useRouterState({ select: (state) => state.location.pathname });
  const [typed, setTyped] = useState(about ?? '');
  const guide = useQuery({ queryKey: ['guide'], queryFn: readGuide, staleTime: Number.POSITIVE_INFINITY });
  const found = guide.data ? (typed.trim() ? search(guide.data, typed).slice(0, 12) : forPath(guide.data, path)) : [];
  return (
    <Panel label="Help" title="Help" wide onClose={onClose}>
      <div className="border-b border-hair p-4">
        <label className="grid gap-1">
          <span className="font-semibold">Find in the guide</span>
          <input
            type="search"
            value={typed}
            placeholder="held events, quiet pages, hush"
            onChange={(e) => setTyped(e.currentTarget.value)}
            className="w-full"
          />
        </label>
      </div>
      {!guide.data && <Waiting>Opening the guide</Waiting>}
      {guide.data && typed.trim() && found.length === 0 && <p className="p-4 text-soft">The guide has no part with these words.</p>}
      {found.map((part) => (
        <Part key={`${part.page}:${part.heading}`} part={part} />
      ))}
      {!typed.trim() && <Keys />}
      <AskSomebody />
    </Panel>
  );
}

function Part({ part }: { part: GuidePart }) {
  return (
    <section className="guide border-b border-hair p-4">
      <h3 className="mb-2 text-[16px] leading-6">{part.heading}</h3>
      <Markdown
        remarkPlugins={[remarkGfm]}
        components={{
          // Its own pages are found by the search; what stands outside the desk would leave it.
          a: ({ children }) => <em className="not-italic font-semibold">{children}</em>,
        }}
      >
        {part.text}
      </Markdown>
    </section>
  );
}

function Keys() {
  return (
    <Section title="Keys">
      <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-y-1">
        {KEYS.map(([what, keys]) => (
          <div key={what} className="contents">
            <dt>{what}</dt>
            <dd className="font-mono text-[12px]">{keys}</dd>
          </div>
        ))}
      </dl>
    </Section>
  );
}

/** What somebody who helps has to know, and nothing about people. */
function AskSomebody() {
  const { site, member } = useDesk();
  const path = useRouterState({ select: (state) => state.location.pathname });
  // A page's own search may hold what was typed about somebody; only the page is named.
  const state = [
    `Page: ${location.origin}${location.pathname}`,
    `Section: ${path}`,
    `Site: ${site.key}, ${site.timeZone}, ${site.language}`,
    `Role: ${member.role}`,
    `Window: ${window.innerWidth} by ${window.innerHeight}`,
    `Browser: ${navigator.userAgent}`,
    `At: ${new Date().toISOString()}`,
  ].join('\n');
  const body = `What I wanted to do:\n\nWhat happened instead:\n\n${state}\n`;
  return (
    <Section title="Ask somebody" quiet>
      <p>Send what you see to whoever helps you. It names the page, your role and your browser, and nobody’s data.</p>
      <pre tabIndex={0} className="overflow-auto rounded border border-hair bg-sheet p-2 font-mono text-[11px] leading-4">
        {state}
      </pre>
      <p className="flex flex-wrap gap-2">
        <a
          className="inline-flex min-h-8 items-center rounded border border-ink bg-sheet px-3 font-semibold hover:bg-sheet2"
          href={`mailto:?subject=${encodeURIComponent(`Outcry: help with ${path}`)}&body=${encodeURIComponent(body)}`}
        >
          Write a mail
        </a>
        <CopyButton text={body}>Copy it</CopyButton>
      </p>
    </Section>
  );
}
