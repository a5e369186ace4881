import { Link } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import 'swagger-ui-dist/swagger-ui.css';
import { token } from '../data/api';
import { Code } from '../kit/Copy';
import { Waiting } from '../kit/Notice';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';

/** For whoever builds on it: the interface as it describes itself, the tokens for machines, the page's functions with their types. */
export function DevelopersPage() {
  const { site, member } = useDesk();
  useTitle('For developers');
  const first = `curl -H "Authorization: Bearer $TOKEN" ${location.origin}/api/sites/${site.id}/strip`;
  return (
    <div className="h-full overflow-auto bg-sheet" tabIndex={0} role="region" aria-label="For developers">
      <h1 className="flex min-h-[52px] items-center border-b border-ink bg-paper px-4 text-[22px] leading-7">For developers</h1>
      <div className="grid gap-6 border-b border-ink p-4 lg:grid-cols-2">
        <section className="grid min-w-0 content-start gap-2">
          <h2 className="text-[16px] leading-6">From a program</h2>
          <p>
            Everything the desk does it does through the interface below. A program brings a token
            {mayAct(member, 'govern') ? (
              <>
                ;{' '}
                <Link to="/team" search={{ view: 'tokens' }} className="font-semibold text-cobalt hover:underline">
                  make one
                </Link>
              </>
            ) : (
              '; owners make them'
            )}
            . It opens what its scopes say, in this workspace only.
          </p>
          <Code copy={first}>{first}</Code>
        </section>
        <section className="grid min-w-0 content-start gap-2">
          <h2 className="text-[16px] leading-6">From the page</h2>
          <p>
            What pages may call is typed in{' '}
            <a href="/snippet/outcry.d.ts" download className="font-semibold text-cobalt hover:underline">
              outcry.d.ts
            </a>
            : put it beside your sources.
          </p>
          <Code copy={PAGE}>{PAGE}</Code>
        </section>
      </div>
      <Reference />
    </div>
  );
}

const PAGE = "window.outcry = window.outcry || []; outcry.push(['track', 'gift wrapped', { product: 'Salt jug' }]);";

/** The description of the interface, drawn by a renderer that is shipped with the desk; what is tried there is really done. */
function Reference() {
  const place = useRef<HTMLDivElement>(null);
  const [stands, setStands] = useState(false);
  useEffect(() => {
    let gone = false;
    void import('swagger-ui-dist/swagger-ui-es-bundle.js').then(({ default: draw }) => {
      if (gone || !place.current) return;
      draw({
        url: '/openapi/v1.json',
        domNode: place.current,
        docExpansion: 'none',
        defaultModelsExpandDepth: -1,
        filter: true,
        // Nothing of it is looked up elsewhere.
        validatorUrl: null,
        requestInterceptor: (request) => {
          request.headers['X-Outcry-Antiforgery'] = token();
          return request;
        },
        onComplete: () => setStands(true),
      });
    });
    return () => {
      gone = true;
    };
  }, []);
  return (
    <section aria-label="Interface">
      {!stands && <Waiting>Drawing the interface</Waiting>}
      <p className="px-5 pt-4 text-soft">What you try here is really done, as you and in this desk.</p>
      <div ref={place} />
    </section>
  );
}
