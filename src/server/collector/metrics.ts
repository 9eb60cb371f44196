import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';

export interface Metrics {
  readonly registry: Registry;
  readonly requests: Counter<'status'>;
  readonly items: Counter<'kind' | 'outcome'>;
  readonly groups: Histogram;
  readonly writeSeconds: Histogram;
  readonly waiting: Gauge;
  /** Pages that hear a conversation now; set as it is asked for. */
  readonly listening: Gauge;
  readonly services: Counter<'service' | 'outcome'>;
}

/** What the collector counts, in Prometheus' text format. One registry a collector, so that several can live in one process. */
export function createMetrics(): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'crindle_' });
  const registers = [registry];
  return {
    registry,
    requests: new Counter({ name: 'crindle_requests_total', help: 'Batches answered, by HTTP status', labelNames: ['status'], registers }),
    items: new Counter({
      name: 'crindle_items_total',
      help: 'Items by kind and what became of them',
      labelNames: ['kind', 'outcome'],
      registers,
    }),
    groups: new Histogram({
      name: 'crindle_group_items',
      help: 'Items written together in one transaction',
      buckets: [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000],
      registers,
    }),
    writeSeconds: new Histogram({
      name: 'crindle_group_seconds',
      help: 'Seconds that a group took to be written and committed',
      buckets: [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.5, 2],
      registers,
    }),
    waiting: new Gauge({ name: 'crindle_items_waiting', help: 'Items that wait to be written', registers }),
    listening: new Gauge({ name: 'crindle_listening', help: 'Pages that hear a conversation', registers }),
    services: new Counter({
      name: 'crindle_services_total',
      help: 'Questions to outside services and what became of them',
      labelNames: ['service', 'outcome'],
      registers,
    }),
  };
}
