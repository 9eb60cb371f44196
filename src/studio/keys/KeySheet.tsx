import { SidePanel } from '../parts/layout/SidePanel';
import { KEY_HELP } from './keys';

/** The keys, told. */
export function KeySheet({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <SidePanel title="Keys" isOpen={isOpen} onClose={onClose}>
      {KEY_HELP.map(({ title, keys }) => (
        <section key={title} className="mb-5">
          <h3 className="mb-2 font-bold">{title}</h3>
          <dl className="grid grid-cols-[110px_1fr] gap-x-3 gap-y-1.5">
            {keys.map(([key, words]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-[13px] font-semibold">{key}</dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
      <p className="text-soft">On a Mac ⌘ takes the place of Ctrl.</p>
    </SidePanel>
  );
}
