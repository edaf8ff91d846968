// A graph taken out: as a drawing, as a picture on white or clear, on a page of its own, or to the clipboard.
import { Button } from 'antd';
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import './picture-links.css';

interface Props {
  graph: string;
  /** With what is fitted and the residual strip, as the Fit stage shows it. */
  fitted?: boolean;
  ruled?: boolean;
}

export function PictureLinks({ graph, fitted = false, ruled = true }: Props) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [said, setSaid] = useState('');
  const at = (ending: string, more = '', rules = ruled ? 'ticks' : 'none') =>
    `/api/books/${state.id}/graphs/${graph}.${ending}?run=${run}&fitted=${fitted}&rules=${rules}${more}`;
  const copy = async () => {
    try {
      const picture = fetch(at('png')).then(async (answer) => {
        if (!answer.ok) throw new Error('refused');
        return answer.blob();
      });
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': picture })]);
      setSaid('The picture is on the clipboard.');
    } catch {
      setSaid('This browser does not let a page put pictures on the clipboard. Take the PNG out instead.');
    }
  };
  return (
    <div className="row picture-links" role="group" aria-label="Take the picture out">
      <span className="quiet">Take the picture out:</span>
      <a href={at('svg')} download>
        SVG
      </a>
      <a href={at('png')} download>
        PNG, white
      </a>
      <a href={at('png', '&clear=true')} download>
        PNG, clear
      </a>
      <a href={at('pdf')} download>
        a page to print
      </a>
      <a href={at('pdf', '', 'fine')} download>
        on fine squares
      </a>
      <a href={at('pdf', '&empty=true', 'fine')} download>
        empty axes, to draw by hand
      </a>
      <Button size="small" type="text" onClick={() => void copy()}>
        to the clipboard
      </Button>
      <span role="status" className="quiet">
        {said}
      </span>
    </div>
  );
}
