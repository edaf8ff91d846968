import { Sheet } from '@/shared/ui/Sheet';

const keys: [string, string][] = [
  ['Alt+1 … Alt+9', 'go to a station of the trail'],
  ['Alt+P', 'peg the station that you come from beside this one, or take it away'],
  ['Enter', 'next cell, down or across as chosen'],
  ['Shift+Enter', 'back the same way'],
  ['Tab, Shift+Tab', 'next or previous cell in the row'],
  ['↑ ↓', 'cell above or below'],
  ['← →', 'move in the text, then to the next cell'],
  ['Esc', 'put back what stood in the cell'],
  ['Home, End', 'first or last reading of the setting; with Ctrl, of the column'],
  ['F2', 'put the caret into a reading to change a digit of it'],
  ['Alt+B', 'to the apparatus, where there is one, and back; there every letter is a key, and A says what is shown'],
  ['on a picture or film', '← → ↑ ↓ move the cross, with Shift a tenth as far; Z how far, Enter points, N and B step, 1 … 4 what is pointed at, A says where'],
  ['Alt+S', 'set the focused reading aside, or bring it back'],
  ['Alt+Shift+S', 'set the whole setting aside, or bring it back'],
  ['Alt+Shift+Delete', 'remove the setting; the bar brings it back'],
  ['Alt+H', 'what has happened to the focused reading'],
  ['Ctrl+Z', 'undo your last change'],
  ['Shift+Ctrl+Z', 'redo it'],
  ['← → on a graph', 'walk from point to point; with Shift, mark a stretch'],
  ['↑ ↓ on a point', 'on Fit: lift it for a moment and see what would follow'],
  ['+ − f 0 on a graph', 'look closer, stand back, all points, the origin'],
  ['w on a number', 'its working'],
  ['?', 'this list'],
];

export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys" onClose={onClose}>
      <div className="keys">
        {keys.map(([key, words]) => (
          <div key={key}>
            <kbd>{key}</kbd>
            <span>{words}</span>
          </div>
        ))}
      </div>
    </Sheet>
  );
}
