'use client';

import { baseKeymap, toggleMark } from 'prosemirror-commands';
import { keymap } from 'prosemirror-keymap';
import { liftListItem, splitListItem, wrapInList } from 'prosemirror-schema-list';
import type { Command } from 'prosemirror-state';
import { EditorState, Selection, TextSelection } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { memo, useEffect, useEffectEvent, useRef } from 'react';
import { toast } from 'sonner';
import type { Path } from '@/core/flows/edit';
import { valueAt, withValue } from '@/core/flows/edit';
import type { Block, BlockOf } from '@/core/messages/block';
import { BLOCK_KINDS } from '@/core/messages/block';
import { plainOf } from '@/core/messages/richText';
import { listOf, pathKey } from './board';
import type { CaretRef, Edit, RichHandle } from './caret';
import { docOf, linkAmong, partsOf, richSchema } from './richSchema';
import type { TextPlace } from './useDrawn';

const { nodes, marks } = richSchema;

const PLUGINS = [
  keymap({
    'Mod-b': toggleMark(marks.bold),
    'Mod-i': toggleMark(marks.italic),
    Enter: splitListItem(nodes.item),
    Escape: (_state, _dispatch, view) => {
      view?.dom.blur();
      return true;
    },
  }),
  keymap(baseKeymap),
];

/** A text with formatting, written where it stands: unseen until somebody is in it. */
export const RichText = memo(function RichText({
  place,
  block,
  path,
  id,
  caretRef,
  edit,
  write,
}: {
  place: TextPlace;
  block: BlockOf<'rich'>;
  /** Of the block in its message. */
  path: Path;
  /** Of the message. */
  id: string;
  caretRef: CaretRef;
  edit: Edit;
  write: Edit;
}) {
  const stage = useRef<HTMLDivElement>(null);
  const viewRef = useRef<EditorView>(undefined);
  /** The block as this editor last knew it. */
  const knownRef = useRef<BlockOf<'rich'>>(undefined);
  /** What was written here and has not come back yet. */
  const sentRef = useRef<BlockOf<'rich'>[]>([]);
  const { rect, style, label } = place;

  const note = useEffectEvent(() => {
    const { selection } = viewRef.current?.state ?? {};
    caretRef.current.last = { path: place.path, from: selection?.from ?? 0, to: selection?.to ?? 0 };
  });
  const put = useEffectEvent((view: EditorView, next: EditorState) => {
    const before = view.state.doc;
    const made = { ...(knownRef.current ?? block), parts: partsOf(next.doc) };
    // What is longer than a message may hold is not taken: the editor stays as it was.
    if (next.doc !== before && !BLOCK_KINDS.rich.schema().safeParse(made).success)
      return void toast.error(
        `Not taken: ${label} of ${id} holds at most 20 lists and paragraphs of 60 lines, of 2,000 letters at a stretch`,
        {
          id: 'too long',
        },
      );
    view.updateState(next);
    if (next.doc.eq(before)) return;
    knownRef.current = made;
    sentRef.current.push(made);
    write((message) => ((valueAt(message, path) as Block | undefined)?.kind === 'rich' ? withValue(message, path, made) : message));
  });
  /** What is undone before it came back never comes: the block as it is drawn is what the editor has then. */
  const forgetSent = useEffectEvent((event: KeyboardEvent): false => {
    const view = viewRef.current;
    if (view && sentRef.current.length > 0 && (event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key)) {
      sentRef.current = [];
      knownRef.current = block;
      view.updateState(EditorState.create({ doc: docOf(block), plugins: PLUGINS }));
    }
    return false;
  });
  const leave = useEffectEvent((to: EventTarget | null) => {
    if (to instanceof Element && to.closest('[role=toolbar], [role=dialog], [data-headlessui-portal]')) return;
    edit((message) => {
      const now = valueAt(message, path) as Block | undefined;
      const plain = now?.kind === 'rich' ? plainOf(now) : undefined;
      return plain ? withValue(message, path, plain) : message;
    });
  });
  const begin = useEffectEvent(() => ({ block, writing: caretRef.current, key: pathKey(path) }));

  useEffect(() => {
    const mount = stage.current;
    if (!mount) return undefined;
    const { block: first, writing, key } = begin();
    const wanted = writing.last;
    knownRef.current = first;
    const view = new EditorView(
      { mount },
      {
        state: EditorState.create({ doc: docOf(first), plugins: PLUGINS }),
        dispatchTransaction: (transaction) => {
          put(view, view.state.apply(transaction));
          note();
        },
        handleDOMEvents: {
          focus: () => note(),
          keydown: (_view, event) => forgetSent(event),
          blur: (_view, event) => leave(event.relatedTarget),
        },
      },
    );
    viewRef.current = view;
    writing.rich.set(key, handleOf(view));
    // It has just become what it is: whoever wrote in it goes on where they were.
    if (wanted && pathKey(listOf(wanted.path)) === key && wanted.path.at(-1) === 'text') {
      view.focus();
      view.dispatch(view.state.tr.setSelection(selectionAt(view.state, wanted.from, wanted.to)));
    }
    return () => {
      // Whatever takes its place goes on where this began.
      writing.last = wanted;
      writing.rich.delete(key);
      view.destroy();
    };
  }, []);

  useEffect(() => {
    const view = viewRef.current;
    const nth = sentRef.current.indexOf(block);
    if (nth >= 0) sentRef.current.splice(0, nth + 1);
    // What was written here comes back, perhaps while more is being written.
    if (!view || nth >= 0 || knownRef.current === block) return;
    const isSame = JSON.stringify(knownRef.current?.parts) === JSON.stringify(block.parts);
    knownRef.current = block;
    sentRef.current = [];
    // Undone, or written by somebody else.
    if (!isSame) view.updateState(EditorState.create({ doc: docOf(block), plugins: PLUGINS }));
  }, [block]);

  return (
    <div
      ref={stage}
      role="textbox"
      aria-multiline="true"
      aria-label={`${label} of ${id}`}
      className="rich-writing absolute opacity-0 outline-offset-2 focus:z-10 focus:opacity-100"
      style={{ ...style, left: rect.left, top: rect.top, width: rect.width + 2, minHeight: rect.height }}
    />
  );
});

/** Letters of a plain text, counted from its start, as a selection of the paragraphs that it has become. */
function selectionAt({ doc }: EditorState, from: number, to: number): Selection {
  // Each line's end is a letter there, and the border of two paragraphs (or of more, in lists) here.
  const placeOf = (letter: number): number => {
    let left = letter;
    let found: number | undefined;
    doc.descendants((node, at) => {
      if (found !== undefined || !node.isTextblock) return found === undefined;
      if (left <= node.content.size) found = at + 1 + left;
      else left -= node.content.size + 1;
      return false;
    });
    return found ?? Selection.atEnd(doc).from;
  };
  return TextSelection.create(doc, placeOf(from), placeOf(to));
}

function handleOf(view: EditorView): RichHandle {
  const run = (command: Command): void => void command(view.state, view.dispatch, view);
  /** Where nothing is marked, all of it is meant. */
  const markAll = (): void => {
    const { doc, selection, tr } = view.state;
    if (selection.empty) view.dispatch(tr.setSelection(TextSelection.between(doc.resolve(0), doc.resolve(doc.content.size))));
  };
  const putLink = (link: string | undefined): void => {
    const { tr, selection } = view.state;
    const { from, to } = selection;
    tr.removeMark(from, to, marks.link);
    view.dispatch(link === undefined ? tr : tr.addMark(from, to, marks.link.create({ to: link })));
  };
  return {
    format: (format) => {
      if ('as' in format) {
        const isSo = format.as === 'paragraphs' || view.state.selection.$from.node(1).type === nodes[format.as];
        run(isSo ? liftListItem(nodes.item) : inList(nodes[format.as]));
      } else {
        markAll();
        if ('link' in format) putLink(format.link);
        else run(toggleMark('bold' in format ? marks.bold : marks.italic));
      }
      view.focus();
    },
    insert: (text) => {
      view.dispatch(view.state.tr.insertText(text));
      view.focus();
    },
    link: () => {
      const { doc, selection } = view.state;
      const { $from, from, to, empty } = selection;
      let met = empty ? linkAmong($from.marks()) : undefined;
      if (!empty) doc.nodesBetween(from, to, ({ marks: on }) => void (met ??= linkAmong(on)));
      return met;
    },
  };
}

/** Paragraphs into a list; a list of the other kind becomes one of this. */
const inList =
  (type: (typeof nodes)['bullets']): Command =>
  (state, dispatch) => {
    const { $from } = state.selection;
    const around = $from.node(1);
    if (around.type === nodes.bullets || around.type === nodes.numbers) {
      dispatch?.(state.tr.setNodeMarkup($from.before(1), type));
      return true;
    }
    return wrapInList(type)(state, dispatch);
  };
