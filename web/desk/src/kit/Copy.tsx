import { type ReactNode, useState } from 'react';
import { Button } from './Button';

/** Copies a text with one press and says so. */
export function CopyButton({ text, children, kind = 'plain' }: { text: string; children: string; kind?: 'plain' | 'primary' | 'link' }) {
  const [copied, setCopied] = useState<boolean>();
  async function copy() {
    try {
      await navigator.clipboard.writeText(text);
      setCopied(true);
    } catch {
      setCopied(false);
    }
    setTimeout(() => setCopied(undefined), 3000);
  }
  return (
    <span className="inline-flex items-center gap-2">
      <Button kind={kind} onClick={() => void copy()}>
        {children}
      </Button>
      <span role="status" className={`font-semibold ${copied === false ? 'text-bad' : 'text-good'}`}>
        {copied === true && 'Copied'}
        {copied === false && 'Not allowed by the browser: select and copy it'}
      </span>
    </span>
  );
}

/** A text to be copied whole: an address, a secret, a link. */
export function Code({ copy, children }: { copy: string; children: ReactNode }) {
  return (
    <div className="flex items-start gap-2">
      <code className="min-w-0 flex-1 rounded border border-edge bg-paper p-2 font-mono text-[12.5px] break-all">{children}</code>
      <CopyButton text={copy}>Copy</CopyButton>
    </div>
  );
}
