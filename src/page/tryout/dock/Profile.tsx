/** @jsxImportSource preact */
import { useState } from 'preact/hooks';
import { Back } from './Choices';
import { Picker } from './Picker';
import type { Editing } from './pretended';

/** Tags, traits and a score, over what the visitor does. */
export function Profile({ pretend, change, done }: Editing) {
  const [text, setText] = useState('');
  return (
    <>
      <Back
        label="no tags or traits but what you do"
        onBack={() => {
          change({ tags: undefined, traits: undefined, score: undefined });
          done();
        }}
      />
      <form
        class="row"
        onSubmit={(event) => {
          event.preventDefault();
          const [key = '', value] = text.split('=').map((part) => part.trim());
          if (key === '' || !value) return;
          const number = Number(value);
          change(({ traits }) => ({ traits: { ...traits, [key]: Number.isFinite(number) ? number : value } }));
          done();
        }}
      >
        <input
          class="field wide"
          aria-label="A trait, as name=value"
          placeholder="plan=pro"
          value={text}
          onInput={({ currentTarget }) => setText(currentTarget.value)}
        />
        <button type="submit" class="act">
          Has the trait
        </button>
      </form>
      <label class="row">
        a score of
        <input
          class="field"
          type="number"
          value={pretend.score ?? ''}
          onInput={({ currentTarget: { valueAsNumber: score } }) => change({ score: Number.isFinite(score) ? score : undefined })}
        />
      </label>
      <Picker
        of="tags"
        label="A tag"
        typed={(tag) => ({ label: `tag “${tag}”`, value: tag })}
        onPick={({ value }) => {
          change(({ tags = [] }) => ({ tags: [...new Set([...tags, String(value)])] }));
          done();
        }}
      />
    </>
  );
}
