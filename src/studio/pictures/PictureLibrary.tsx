'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { Phrase } from '../messages/Phrase';
import { PicturePicker } from './PicturePicker';
import type { KeptPicture } from './usePictures';
import { usePictures } from './usePictures';

/** All pictures of the site: found by name, told where they are used, and replaced wherever they are. `uses`: names of campaigns, by hash. */
export function PictureLibrary({ uses }: { uses: Readonly<Record<string, readonly string[]>> }) {
  const router = useRouter();
  const pictures = usePictures();
  const [search, setSearch] = useState('');
  const found = pictures.filter(({ name }) => name.toLowerCase().includes(search.trim().toLowerCase()));
  async function replace(old: KeptPicture, by: KeptPicture): Promise<void> {
    if (old.hash === by.hash) return void toast('That is the same picture');
    const result = await call('POST /api/pictures/{hash}', { params: { hash: old.hash }, body: { by: by.hash } });
    if (!result.ok) return void toast.error(result.message);
    const { campaigns } = result.value;
    toast.success(`Replaced in ${campaigns} ${campaigns === 1 ? 'campaign' : 'campaigns'}; visitors see it with the next release`);
    router.refresh();
  }
  return (
    <div className="grid grid-cols-1 items-start gap-6 lg:grid-cols-[minmax(0,1fr)_320px]">
      <div className="sheet min-w-0 overflow-x-auto">
        <table className="list">
          <thead>
            <tr>
              <th>
                <input
                  data-filter
                  type="search"
                  aria-label="Search pictures"
                  className="field w-52 font-normal"
                  placeholder="Name of the file"
                  value={search}
                  onChange={({ target }) => setSearch(target.value)}
                />
              </th>
              <th className="number">Pixels</th>
              <th className="number">Bytes</th>
              <th>Used in</th>
              <th>
                <span className="sr-only">Replacing</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {found.map((picture) => {
              const { hash, name, width, height, size, url } = picture;
              const used = uses[hash] ?? [];
              return (
                <tr key={hash} className="hover:bg-bone">
                  <td>
                    <span className="flex items-center gap-3">
                      <img src={url} alt="" loading="lazy" className="h-12 w-20 rounded-sm border border-line object-cover" />
                      <b className="truncate">{name}</b>
                    </span>
                  </td>
                  <td className="number">
                    {width} × {height}
                  </td>
                  <td className="number">{Math.max(1, Math.round(size / 1024)).toLocaleString('en-GB')} kB</td>
                  <td className={used.length ? '' : 'text-soft'}>{used.length ? used.join(', ') : 'nothing yet'}</td>
                  <td>
                    {used.length > 0 && (
                      <Phrase label={`Replace ${name} everywhere`} words="Replace everywhere">
                        {(close) => (
                          <PicturePicker
                            chosen={url}
                            onPick={(by) => {
                              void replace(picture, by);
                              close();
                            }}
                          />
                        )}
                      </Phrase>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {found.length === 0 && (
          <p className="p-4 text-soft">
            {pictures.length === 0 ? 'No pictures yet: bring one in at the right.' : 'No picture is called so.'}
          </p>
        )}
      </div>
      <section className="sheet p-4" aria-label="Bring a picture in">
        <PicturePicker chosen="" onPick={({ name }) => toast.success(`${name} is in the library`)} />
      </section>
    </div>
  );
}
