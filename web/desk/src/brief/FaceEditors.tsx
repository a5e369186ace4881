import { PictureChoice } from '../catalogue/PictureChoice';
import { Button } from '../kit/Button';
import { Sortable, useSortableItem } from '../kit/Sortable';
import { BLOCKS, type Block, faceOrder, USUAL_BLOCKS } from './asking';
import type { Ask } from './askWords';
import type { Brief } from './types';

/** The parts of a prompt's face from above to below. */
export function BlocksEditor({ ask, onChange }: { ask: Ask; onChange(ask: Ask): void }) {
  const order = faceOrder(ask);
  return (
    <div className="grid gap-2">
      <Sortable items={order} idOf={(b) => b} nameOf={(b) => BLOCKS[b]} onOrder={(blocks) => onChange({ ...ask, blocks })}>
        <ol aria-label="From above to below" className="border-t border-hair">
          {order.map((block, at) => (
            <BlockRow key={block} block={block} number={at + 1} />
          ))}
        </ol>
      </Sortable>
      <p className="text-[12px] leading-4 text-soft">
        Drag a handle; or, with keys, the space bar, the arrows, and the space bar again. A picture right above the message stands beside
        it.
      </p>
      {order.join() !== USUAL_BLOCKS.join() && <Button onClick={() => onChange({ ...ask, blocks: [] })}>Back to the usual order</Button>}
    </div>
  );
}

function BlockRow({ block, number }: { block: Block; number: number }) {
  const { item, isDragging, handle } = useSortableItem(block, BLOCKS[block]);
  return (
    <li {...item} className={`flex items-center gap-2 border-b border-hair bg-sheet py-0.5 ${isDragging ? 'relative z-10 shadow-lg' : ''}`}>
      <span className="w-4 text-soft">{number}</span>
      <span className="flex-1 font-semibold first-letter:uppercase">{BLOCKS[block]}</span>
      {handle}
    </li>
  );
}

/** A picture behind all that is said. */
export function BackdropEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
  return (
    <div className="grid gap-2">
      <PictureChoice address={look.backdrop} onChoose={(backdrop) => onChange({ backdrop })} />
      {look.backdrop && <Button onClick={() => onChange({ backdrop: '' })}>No picture behind it</Button>}
      <p className="text-[12px] leading-4 text-soft">
        What is said keeps its own ground in front of the picture, so that it reads as well as without.
      </p>
    </div>
  );
}
