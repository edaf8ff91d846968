// The walkround: every bench of a practical on a tile, as the room stands or those first who need somebody; live.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { Bar } from '@/shared/ui/Bar';
import { clock } from '@/shared/ui/moments';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useArrival } from '@/shared/ui/useArrival';
import { useRemembered } from '@/shared/ui/useRemembered';
import { CommonSlips, Stopped } from './CommonSlips';
import { TileCard } from './TileCard';
import { byNeed, COLUMNS, countOf, moveTo, needsHelp, neighbour, placesOf, type Filter, type Room } from './tiles';
import './walkround.css';

const EVERY = 1500;
type View = 'need' | 'room';
type Round = Omit<Schemas['WalkroundOut'], 'room'> & { room: Room };

export function Walkround({ me }: { me: Me }) {
  const { practical = '' } = useParams();
  const main = useArrival(practical);
  const id = Number(practical);
  const key = ['walkround', id];
  const round = useQuery({
    queryKey: key,
    queryFn: async (): Promise<Round> => {
      const answer = await get(client.GET('/api/practicals/{practical_id}/walkround', { params: { path: { practical_id: id } } }));
      // a place is a column and a row
      return { ...answer, room: answer.room as Room };
    },
    refetchInterval: EVERY,
  });
  const data = round.data;
  return (
    <>
      <Bar me={me} where={<b>{data ? `${data.class_name} · ${data.title}` : 'Walkround'}</b>} />
      <main className="walkround" ref={main} tabIndex={-1}>
        {round.isError && !data && <TroubleWords>{round.error.message}</TroubleWords>}
        {round.isError && data && <p className="notice bad">What is shown is from {clock(round.dataUpdatedAt)}: the server does not answer.</p>}
        {data && <Tiles practical={id} data={data} />}
      </main>
    </>
  );
}

function Tiles({ practical, data }: { practical: number; data: Round }) {
  const queries = useQueryClient();
  const [asRoom, setAsRoom] = useRemembered('the room of the walkround');
  const [filter, setFilter] = useState<Filter>('all');
  const [bare, setBare] = useState(false);
  const [arranging, setArranging] = useState(false);
  const [stopped, setStopped] = useState(false);
  const [dragged, setDragged] = useState<number | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const tiles = data.tiles;
  const places = placesOf(tiles, data.room);
  const rows = Math.max(0, ...[...places.values()].map(([, row]) => row)) + (arranging ? 2 : 1);
  const inRoom = asRoom && filter === 'all';
  // the order would tell who needs most
  const shown = inRoom || bare ? tiles : byNeed(tiles, filter);

  const arrange = (room: Room) => {
    queries.setQueryData(['walkround', practical], { ...data, room });
    void client.POST('/api/classes/{class_id}/room', { params: { path: { class_id: data.class_id } }, body: { places: room } });
  };
  const lower = (book: number) => {
    void client
      .POST('/api/books/{book_id}/hand', { params: { path: { book_id: book } }, body: { up: false } })
      .then(() => queries.invalidateQueries({ queryKey: ['walkround', practical] }));
  };
  const close = useCallback(() => setStopped(false), []);

  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement || e.ctrlKey || e.metaKey || e.altKey) return;
      const links = [...(grid.current?.querySelectorAll<HTMLAnchorElement>('a[data-tile]') ?? [])];
      const at = links.findIndex((link) => link === document.activeElement);
      if (e.key.startsWith('Arrow') && at >= 0) {
        e.preventDefault();
        const boxes = links.map((link) => (link.closest('.tile') ?? link).getBoundingClientRect());
        links[neighbour(boxes, at, e.key)]?.focus();
      } else if (e.key === 'n') {
        const wanted = new Set(tiles.filter(needsHelp).map((t) => String(t.book)));
        const inNeed = links.filter((link) => wanted.has(link.dataset.tile ?? ''));
        const after = inNeed.findIndex((link) => link === document.activeElement) + 1;
        inNeed[after % Math.max(1, inNeed.length)]?.focus();
      } else if (e.key === 'p') setBare((was) => !was);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [tiles]);

  const labels: [Filter, string][] = [
    ['all', `all ${tiles.length}`],
    ['hands', `hand up ${countOf(tiles, 'hands')}`],
    ['help', `to look at ${countOf(tiles, 'help')}`],
    ['handed_in', `handed in ${countOf(tiles, 'handed_in')}`],
  ];
  return (
    <>
      <div className="walk-head">
        <h1>{bare ? data.title : 'Walkround'}</h1>
        {!bare && (
          <>
            <Segmented<Filter> aria-label="Which benches" value={filter} onChange={setFilter} options={labels.map(([value, label]) => ({ value, label }))} />
            <Segmented<View>
              aria-label="In which order"
              value={asRoom ? 'room' : 'need'}
              onChange={(view) => setAsRoom(view === 'room')}
              options={[
                { value: 'need', label: 'need first' },
                { value: 'room', label: 'as the room stands' },
              ]}
            />
          </>
        )}
        <span className="walk-acts">
          {!bare && inRoom && (
            <Button size="small" type="text" onClick={() => setArranging(!arranging)}>
              {arranging ? 'It stands so' : 'Arrange'}
            </Button>
          )}
          <Button size="small" type="text" onClick={() => setBare(!bare)}>
            {bare ? 'With names again' : 'For the projector'}
          </Button>
          <Button size="small" onClick={() => setStopped(true)}>
            Stop the lesson
          </Button>
          {!bare && (
            <>
              <Link className="to-class" to={`/practicals/${practical}/hand-ins`}>
                Hand-ins
              </Link>
              <Link className="to-class" to={`/practicals/${practical}/pool`}>
                Pool
              </Link>
            </>
          )}
        </span>
      </div>
      {data.closed && <p className="notice">This practical is closed. It is shown as it ended.</p>}
      {arranging && <p className="quiet">Drag a bench to where it stands, or choose it and press Alt with an arrow key.</p>}
      {tiles.length === 0 && <p className="notice">Nobody of the class sits at a bench yet. Deal benches on the page of the class.</p>}
      <div className={`walk-tiles${inRoom ? ' in-room' : ''}${bare ? ' bare' : ''}${tiles.length > 24 ? ' many' : tiles.length <= 8 ? ' few' : ''}`} ref={grid}>
        {shown.map((tile) => {
          const [column, row] = places.get(tile.bench_id) ?? [0, 0];
          return (
            <div
              key={tile.book}
              className={inRoom ? `column-${column} row-${row}` : ''}
              onDragOver={(e) => arranging && e.preventDefault()}
              onDrop={() => dragged !== null && arrange(moveTo(places, dragged, [column, row]))}
            >
              <TileCard
                tile={tile}
                bare={bare}
                arranging={arranging && inRoom}
                most={tiles.length <= 12 ? 4 : tiles.length <= 24 ? 3 : 1}
                onDrag={setDragged}
                onMove={(dx, dy) => arrange(moveTo(places, tile.bench_id, [column + dx, row + dy]))}
                onHandDown={() => lower(tile.book)}
              />
            </div>
          );
        })}
        {arranging && inRoom && <Empty places={places} rows={rows} onDrop={(place) => dragged !== null && arrange(moveTo(places, dragged, place))} />}
      </div>
      {!bare && shown.length === 0 && tiles.length > 0 && <p className="quiet">Nobody just now.</p>}
      {!bare && <CommonSlips practical={practical} common={data.common} tiles={tiles} />}
      {!bare && (
        <p className="quiet walk-keys">
          <kbd>n</kbd> the next who needs somebody · arrow keys from tile to tile · <kbd>Enter</kbd> opens · <kbd>p</kbd> for the projector
        </p>
      )}
      {stopped && <Stopped common={data.common} onClose={close} />}
    </>
  );
}

/** Places where no bench stands, while the room is arranged. */
function Empty({ places, rows, onDrop }: { places: Map<number, [number, number]>; rows: number; onDrop: (place: [number, number]) => void }) {
  const taken = new Set([...places.values()].map((place) => place.join()));
  const columns = Math.min(COLUMNS, Math.max(4, ...[...places.values()].map(([column]) => column + 2)));
  return Array.from({ length: rows * columns }, (_, i): [number, number] => [i % columns, Math.floor(i / columns)])
    .filter((place) => !taken.has(place.join()))
    .map(([column, row]) => (
      <div
        key={`${column}-${row}`}
        className={`tile-place column-${column} row-${row}`}
        onDragOver={(e) => e.preventDefault()}
        onDrop={() => onDrop([column, row])}
        aria-hidden="true"
      />
    ));
}
