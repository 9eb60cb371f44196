import { END, followers } from '../messages/conversation';
import type { Message, MessageOf } from '../messages/message';
import { actionsOf, waysToClose } from '../messages/message';
import { openedBy } from '../messages/action';
import { allBlocks } from '../messages/block';
import type { Flow } from './flow';
import { messageOf } from './flow';

export interface FlowFinding {
  readonly code:
    | 'flow.unknownMessage'
    | 'flow.unreachable'
    | 'flow.deadEnd'
    | 'flow.noWayToClose'
    | 'flow.empty'
    | 'conversation.unknownStep'
    | 'conversation.unreachable'
    | 'conversation.neverEnds'
    | 'conversation.sameId';
  /** An error keeps the campaign from being published. */
  readonly severity: 'error' | 'warning';
  readonly message: string;
  readonly path: readonly (string | number)[];
}

/** What is wrong with a flow, which begins at its start or with a variant: links to nowhere, messages nobody gets to, buttons that do nothing, messages that cannot be left. */
export function checkFlow(flow: Flow, variants: readonly { readonly start: string }[] = []): FlowFinding[] {
  const reached = reachable(flow, [flow.start, ...variants.map(({ start }) => start)]);
  return flow.messages.flatMap((message, index) => {
    const at = (path: readonly (string | number)[]): (string | number)[] => ['messages', index, ...path];
    const finding = (
      code: FlowFinding['code'],
      severity: FlowFinding['severity'],
      path: readonly (string | number)[] = [],
    ): FlowFinding => ({
      code,
      severity,
      message: message.id,
      path: at(path),
    });
    return [
      ...(reached.has(message.id) ? [] : [finding('flow.unreachable', 'warning')]),
      ...(waysToClose(message).length === 0 ? [finding('flow.noWayToClose', 'error')] : []),
      ...('blocks' in message && message.blocks.length === 0 ? [finding('flow.empty', 'warning')] : []),
      ...actionsOf(message).flatMap(({ path, does }) => [
        ...(does.length === 0 && isAnswer(message, path) ? [finding('flow.deadEnd', 'warning', path)] : []),
        ...openedBy(does).flatMap((id) => (messageOf(flow, id) ? [] : [finding('flow.unknownMessage', 'error', path)])),
      ]),
      ...(message.format === 'chat' ? conversationFindings(message, finding) : []),
    ];
  });
}

/** A quiet action that does nothing is no dead end: nobody stands in it. */
const isAnswer = (message: Message, path: readonly (string | number)[]): boolean =>
  message.format !== 'quiet' && path.length > 0 && 'blocks' in message && allBlocks(message.blocks).length > 0;

function reachable(flow: Flow, starts: readonly string[]): ReadonlySet<string> {
  const reached = new Set<string>();
  const follow = (id: string): void => {
    const message = messageOf(flow, id);
    if (!message || reached.has(id)) return;
    reached.add(id);
    for (const { does } of actionsOf(message)) openedBy(does).forEach(follow);
  };
  starts.forEach(follow);
  return reached;
}

function conversationFindings(
  { conversation }: MessageOf<'chat'>,
  finding: (code: FlowFinding['code'], severity: FlowFinding['severity'], path: readonly (string | number)[]) => FlowFinding,
): FlowFinding[] {
  const { steps } = conversation;
  const nextOf = new Map(steps.map((step) => [step.id, followers(conversation, step)]));
  const reached = new Set<string>();
  const follow = (id: string): void => {
    if (reached.has(id)) return;
    reached.add(id);
    nextOf.get(id)?.forEach(follow);
  };
  follow(steps[0]?.id ?? END);
  return [
    ...steps.flatMap(({ id }, index) => {
      const path = ['conversation', 'steps', index];
      return [
        ...(steps.findIndex((step) => step.id === id) < index ? [finding('conversation.sameId', 'error', path)] : []),
        ...(nextOf.get(id) ?? []).flatMap((next) =>
          next !== END && !nextOf.has(next) ? [finding('conversation.unknownStep', 'error', path)] : [],
        ),
        ...(reached.has(id) ? [] : [finding('conversation.unreachable', 'warning', path)]),
      ];
    }),
    ...(reached.has(END) ? [] : [finding('conversation.neverEnds', 'warning', ['conversation'])]),
  ];
}
