// A link that is shown once: to be copied, and handed to the one it is for.
import { Button, Input, type InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '@/shared/api/client';

interface Props {
  /** Where people find the server, if that has been set; else where this page was found. */
  address: string;
  path: string;
  words: string;
  made: Schemas['NewKey'];
}

export function OneTimeLink({ address, path, words, made }: Props) {
  const line = useRef<InputRef>(null);
  const [copied, setCopied] = useState('');
  const link = `${address || window.location.origin}${path}#${made.key}`;
  useEffect(() => line.current?.focus({ cursor: 'all' }), [link]);
  const copy = () => {
    line.current?.focus({ cursor: 'all' });
    // there is no clipboard on a page that came by plain http; what is marked can be copied by hand
    if (!('clipboard' in navigator)) setCopied('Marked: copy it with Ctrl+C.');
    else
      void navigator.clipboard.writeText(link).then(
        () => setCopied('Copied.'),
        () => setCopied('Marked: copy it with Ctrl+C.'),
      );
  };
  return (
    <div className="notice one-time" role="status">
      <p>
        The link <b>{words}</b>. It works once and is shown only now: copy it, and give it to nobody else.
      </p>
      <div className="row">
        <Input ref={line} value={link} readOnly className="mono" aria-label={`The link ${words}`} />
        <Button onClick={copy}>Copy</Button>
        <span className="quiet">{copied}</span>
      </div>
    </div>
  );
}
