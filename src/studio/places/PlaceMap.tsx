'use client';

import * as leaflet from 'leaflet';
import '@geoman-io/leaflet-geoman-free';
import 'leaflet/dist/leaflet.css';
import '@geoman-io/leaflet-geoman-free/dist/leaflet-geoman.css';
import type { Feature, FeatureCollection, Polygon } from 'geojson';
import { useEffect, useRef, useState } from 'react';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import type { PlaceShape } from '@/core/geo/place';
import { addressOf, call } from '../parts/net/call';
import { ask } from '../parts/net/send';
import { afterDrawn, polygonsOf, shapeOfPolygons, storedPosition } from './shapes';

type Mode = 'look' | 'area' | 'circle' | 'hole' | 'corners';
const MODES: readonly { readonly mode: Mode; readonly words: string; readonly hint: string }[] = [
  { mode: 'look', words: 'Look', hint: 'Drag to move, scroll to zoom. Dots are visitors of the last 30 days.' },
  { mode: 'area', words: 'Draw an area', hint: 'Click corner after corner; click the first one again to close it.' },
  { mode: 'circle', words: 'Draw a circle', hint: 'Click the middle, then where its edge is to be.' },
  { mode: 'hole', words: 'Cut a hole', hint: 'Click around what is not to belong to it.' },
  { mode: 'corners', words: 'Move corners', hint: 'Drag a corner, or a small one between two to add one; right-click takes one away.' },
];
const colour = (name: string): string => `var(--${name})`;

/** The map: borders and towns that ship with the studio, visitors as dots, and the place to draw and to change. */
export function PlaceMap({ shape, onChange }: { shape: PlaceShape; onChange: (shape: PlaceShape) => void }) {
  const holder = useRef<HTMLDivElement>(null);
  const map = useRef<leaflet.Map>(null);
  const drawn = useRef<leaflet.FeatureGroup>(null);
  const latest = useRef({ shape, onChange });
  const [mode, setMode] = useState<Mode>('look');
  const [error, setError] = useState<string>();
  useEffect(() => {
    latest.current = { shape, onChange };
  });

  useEffect(() => {
    if (!holder.current) return;
    const made = leaflet.map(holder.current, { zoomControl: false, attributionControl: false, minZoom: 2, maxZoom: 13, zoomSnap: 0.5 });
    map.current = made;
    leaflet.control.scale({ imperial: false }).addTo(made);
    made.createPane('borders').style.zIndex = '210';
    made.createPane('towns').style.zIndex = '220';
    made.createPane('visitors').style.zIndex = '430';
    const group = leaflet.featureGroup().addTo(made);
    drawn.current = group;
    made.fitBounds(boundsOf(latest.current.shape));

    const ended = new AbortController();
    void addBorders(made, ended.signal).then(setError);
    void addVisitors(made, ended.signal);
    const towns = leaflet.layerGroup().addTo(made);
    const showTowns = (): void => void addTowns(made, towns, ended.signal);
    made.on('moveend', showTowns);
    showTowns();

    made.on('pm:create', ({ layer }) => {
      layer.remove();
      const { shape: before, onChange: change } = latest.current;
      if (layer instanceof leaflet.Circle) {
        const { lat, lng } = layer.getLatLng();
        change({ type: 'Circle', center: storedPosition([lng, lat]), radius: Math.max(50, Math.round(layer.getRadius())) });
      } else {
        const next = shapeOfPolygons([(layer as leaflet.Polygon).toGeoJSON(15).geometry.coordinates as number[][][]]);
        if (next) change(afterDrawn(before, next));
      }
      setMode('look');
    });
    made.on('pm:cut', () => {
      changeTo(group, latest.current.onChange);
      setMode('look');
    });
    const size = new ResizeObserver(() => made.invalidateSize());
    size.observe(holder.current);
    return () => {
      ended.abort();
      size.disconnect();
      made.remove();
    };
  }, []);

  useEffect(() => {
    const [made, group] = [map.current, drawn.current];
    if (!made || !group) return;
    redraw(group, shape);
    if (!made.getBounds().intersects(boundsOf(shape))) made.fitBounds(boundsOf(shape));
    group.eachLayer((layer) => {
      const changed = (): void => changeTo(group, latest.current.onChange);
      layer.on('pm:markerdragend', changed);
      layer.on('pm:vertexadded', changed);
      layer.on('pm:vertexremoved', changed);
      layer.on('pm:centerplaced', changed);
    });
    if (mode === 'corners')
      group.eachLayer((layer) => {
        if (layer instanceof leaflet.Circle || layer instanceof leaflet.Polygon) layer.pm.enable({ snappable: false });
      });
  }, [shape, mode]);

  useEffect(() => {
    const made = map.current;
    if (!made) return;
    const style = {
      pathOptions: styleOfPlace(),
      templineStyle: { color: colour('people') },
      hintlineStyle: { color: colour('people'), dashArray: '4 4' },
      tooltips: false,
    };
    if (mode === 'area') made.pm.enableDraw('Polygon', style);
    else if (mode === 'circle') made.pm.enableDraw('Circle', style);
    else if (mode === 'hole') made.pm.enableDraw('Cut', style);
    else made.pm.disableDraw();
    return () => made.pm.disableDraw();
  }, [mode]);

  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-1 border-b border-line px-3 py-1.5">
        {MODES.filter((one) => one.mode !== 'hole' || shape.type !== 'Circle').map(({ mode: value, words }) => (
          <button
            key={value}
            aria-pressed={mode === value}
            className={`rounded px-2 py-0.5 ${mode === value ? 'bg-ink text-paper' : 'text-soft hover:text-ink'}`}
            onClick={() => setMode(value)}
          >
            {words}
          </button>
        ))}
        <span className="ml-auto flex gap-1">
          <button className="act-quiet" aria-label="Closer" onClick={() => map.current?.zoomIn()}>
            +
          </button>
          <button className="act-quiet" aria-label="Further away" onClick={() => map.current?.zoomOut()}>
            −
          </button>
          <button className="act-quiet" onClick={() => map.current?.fitBounds(boundsOf(shape))}>
            Whole place
          </button>
        </span>
      </div>
      <p className="border-b border-line px-3 py-1 text-xs text-soft">{error ?? MODES.find((one) => one.mode === mode)?.hint}</p>
      <div ref={holder} className="place-map min-h-0 flex-1" role="application" aria-label="Map of the place" />
    </div>
  );
}

const styleOfPlace = (): leaflet.PathOptions => ({ color: colour('people'), weight: 2, fillColor: colour('people'), fillOpacity: 0.18 });

/** The shape with room around it. */
function boundsOf(shape: PlaceShape): leaflet.LatLngBounds {
  if (shape.type === 'Circle')
    return leaflet
      .latLng(shape.center[1], shape.center[0])
      .toBounds(2 * shape.radius)
      .pad(0.6);
  return leaflet
    .latLngBounds(polygonsOf(shape).flatMap(([outer = []]) => outer.map(([lon, lat]): [number, number] => [lat, lon])))
    .pad(0.6);
}

function redraw(group: leaflet.FeatureGroup, shape: PlaceShape): void {
  group.clearLayers();
  if (shape.type === 'Circle') {
    const [lon, lat] = shape.center;
    group.addLayer(leaflet.circle([lat, lon], { radius: shape.radius, ...styleOfPlace() }));
    return;
  }
  for (const polygon of polygonsOf(shape))
    group.addLayer(
      leaflet.polygon(
        // Leaflet's rings are open.
        polygon.map((ring) => ring.slice(0, -1).map(([lon, lat]): [number, number] => [lat, lon])),
        styleOfPlace(),
      ),
    );
}

/** Reads the place off what the map now has. */
function changeTo(group: leaflet.FeatureGroup, onChange: (shape: PlaceShape) => void): void {
  const polygons: number[][][][] = [];
  let circle: PlaceShape | undefined;
  group.eachLayer((layer) => {
    if (layer instanceof leaflet.Circle) {
      const { lat, lng } = layer.getLatLng();
      circle = { type: 'Circle', center: storedPosition([lng, lat]), radius: Math.max(50, Math.round(layer.getRadius())) };
    } else if (layer instanceof leaflet.Polygon) {
      const { geometry } = layer.toGeoJSON(15) as Feature<Polygon | { type: 'MultiPolygon'; coordinates: number[][][][] }>;
      polygons.push(...(geometry.type === 'Polygon' ? [geometry.coordinates] : geometry.coordinates));
    }
  });
  const shape = circle ?? shapeOfPolygons(polygons);
  if (shape) onChange(shape);
}

/** Returns what went wrong. */
async function addBorders(map: leaflet.Map, signal: AbortSignal): Promise<string | undefined> {
  const result = await ask<Topology<{ countries: GeometryCollection }>>(addressOf('GET /api/map/borders'), { method: 'GET' }, signal);
  if (signal.aborted) return undefined;
  if (!result.ok) return `The borders could not be drawn: ${result.message}`;
  const countries = feature(result.value, result.value.objects.countries) as FeatureCollection;
  leaflet
    .geoJSON(countries, {
      pane: 'borders',
      interactive: false,
      style: { color: colour('edge'), weight: 0.8, fillColor: colour('paper'), fillOpacity: 1 },
      pmIgnore: true,
    })
    .addTo(map);
  return undefined;
}

async function addVisitors(map: leaflet.Map, signal: AbortSignal): Promise<void> {
  const result = await call('GET /api/map/visitors', { signal });
  if (signal.aborted || !result.ok) return;
  for (const { lat, lon, people } of result.value)
    leaflet
      .circleMarker([lat, lon], {
        pane: 'visitors',
        radius: Math.max(2.5, Math.min(14, Math.sqrt(people) / 4)),
        color: colour('paper'),
        weight: 1,
        fillColor: colour('pine'),
        fillOpacity: 0.75,
        pmIgnore: true,
      })
      .bindTooltip(`${people.toLocaleString('en-GB')} visitors`)
      .addTo(map);
}

async function addTowns(map: leaflet.Map, layer: leaflet.LayerGroup, signal: AbortSignal): Promise<void> {
  const bounds = map.getBounds();
  const [west, south, east, north] = [bounds.getWest(), bounds.getSouth(), bounds.getEast(), bounds.getNorth()].map((degrees) =>
    degrees.toFixed(3),
  );
  const result = await call('GET /api/map/towns', { query: { west, south, east, north }, signal });
  if (signal.aborted || !result.ok) return;
  layer.clearLayers();
  const taken: leaflet.Point[] = [];
  for (const { name, lat, lon } of result.value) {
    const at = map.latLngToContainerPoint([lat, lon]);
    // Names that would lie on a larger town's are left out.
    if (taken.some((other) => Math.abs(other.x - at.x) < 90 && Math.abs(other.y - at.y) < 18)) continue;
    taken.push(at);
    const label = document.createElement('span');
    label.textContent = name;
    layer.addLayer(
      leaflet.marker([lat, lon], {
        pane: 'towns',
        interactive: false,
        keyboard: false,
        pmIgnore: true,
        icon: leaflet.divIcon({ className: 'town-name', html: label, iconSize: [0, 0] }),
      }),
    );
  }
}
