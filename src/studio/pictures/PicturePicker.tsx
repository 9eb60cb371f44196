'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { callWithFile } from '../parts/net/call';
import type { KeptPicture } from './usePictures';
import { PICTURES, usePictures } from './usePictures';

const LARGEST_MB = 5;

/** The site's pictures to choose from, and room for a new one: dropped, pasted or picked. */
export function PicturePicker({ chosen, onPick }: { chosen: string; onPick: (picture: KeptPicture) => void }) {
  const queries = useQueryClient();
  const id = useId();
  const [search, setSearch] = useState('');
  const [wrong, setWrong] = useState<string>();
  const [isBusy, setBusy] = useState(false);
  const pictures = usePictures();
  const found = pictures.filter(({ name }) => name.toLowerCase().includes(search.trim().toLowerCase()));

  async function take(file: File | null | undefined): Promise<void> {
    if (!file) return;
    setWrong(undefined);
    if (file.size > LARGEST_MB * 1024 * 1024)
      return setWrong(`${file.name} has ${(file.size / 1024 / 1024).toFixed(1)} MB; at most ${LARGEST_MB} MB are taken`);
    setBusy(true);
    const answer = await callWithFile('POST /api/pictures', { query: { name: file.name }, file });
    setBusy(false);
    if (!answer.ok) return setWrong(`${file.name}: ${answer.message}`);
    await queries.invalidateQueries({ queryKey: PICTURES });
    onPick(answer.value);
  }

  return (
    <div
      className="grid gap-2"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void take(event.dataTransfer.files[0]);
      }}
      onPaste={({ clipboardData }) => void take([...clipboardData.files].find(({ type }) => type.startsWith('image/')))}
    >
      <label htmlFor={id} className="grid cursor-pointer gap-1 rounded border border-dashed border-edge p-3 text-center hover:border-pine">
        <span className="font-semibold">{isBusy ? 'Taking it in …' : 'Drop, paste or pick a picture'}</span>
        <span className="text-xs text-soft">JPEG, PNG, WebP, GIF, AVIF or TIFF, at most {LARGEST_MB} MB</span>
        <input
          id={id}
          type="file"
          accept="image/*"
          className="sr-only"
          disabled={isBusy}
          onChange={({ target }) => {
            void take(target.files?.[0]);
            target.value = '';
          }}
        />
      </label>
      {wrong && (
        <p role="alert" className="text-danger">
          {wrong}
        </p>
      )}
      {pictures.length > 8 && (
        <input
          aria-label="Search pictures"
          className="field"
          type="search"
          placeholder="Name of the file"
          value={search}
          onChange={({ target }) => setSearch(target.value)}
        />
      )}
      {found.length > 0 && (
        <ul aria-label="Pictures of the site" className="grid max-h-40 grid-cols-5 gap-2 overflow-auto">
          {found.map((picture) => (
            <li key={picture.hash}>
              <button
                aria-pressed={picture.url === chosen}
                title={`${picture.name}, ${picture.width} × ${picture.height}`}
                className="block h-14 w-full overflow-hidden rounded-sm border border-line aria-pressed:outline aria-pressed:outline-2 aria-pressed:outline-pine"
                onClick={() => onPick(picture)}
              >
                <img src={picture.url} alt={picture.name} loading="lazy" className="h-full w-full object-cover" />
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
