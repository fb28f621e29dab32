import { ABILITY_GROUPS, KEYS, MEANINGS, type Key, type NumberKey } from 'apperin';
import { sheet } from 'apperin/lab';
import { memo, useState, type ReactNode } from 'react';
import {
  Button,
  Input,
  Label,
  NumberField,
  Slider,
  SliderThumb,
  SliderTrack,
  Switch,
  TextField,
} from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { GROUPS, PAIRS, RELEASES, UNITS, numbersOf, pairOf, rangeFor } from '../model/ranges.js';
import { isFound, nameOf } from '../model/names.js';
import { short, valueIn } from '../model/session.js';
import { Choice } from './Choice.js';
import { useLoftBeside } from './App.js';
import { Told } from './Told.js';

/** The tuning as a column of groups, in the order in which people work. */
export function Column({ loft }: { loft: Loft }): ReactNode {
  useLoftBeside(loft);
  const { document, own } = loft;
  const all = [
    ...GROUPS.map(({ id, title }) => ({ id, title, keys: KEYS_OF[id]!, played: '' })),
    ...own.list.map(({ name, spec }) => ({
      id: `own-${name}`,
      title: `${name[0]!.toUpperCase()}${name.slice(1)}`,
      keys: own.keys.filter(({ key }) => key.startsWith(`own.${name}.`)),
      played: playedBy(loft, spec.actions ?? []),
    })),
  ];
  const looked = loft.looked.trim();
  const groups =
    looked === ''
      ? all
      : all
          .map((of) => ({
            ...of,
            keys: of.keys.filter(({ key }) => isFound(looked, key, of.title, MEANINGS[key] ?? '')),
          }))
          .filter(({ keys }) => keys.length > 0);
  return (
    <>
      <div className="which">
        <Choice
          label="Tuning"
          value={document.name}
          options={loft.documents.map(({ name, dirty }) => [name, `${short(name)}${dirty ? ' *' : ''}`])}
          onChange={(name) => loft.choose(name)}
        />
        <TextField
          aria-label="Find a number"
          value={loft.looked}
          onChange={(text) => loft.lookFor(text)}
          className="find"
        >
          <Input placeholder="Find: speed, apex, wall…" type="search" />
        </TextField>
        <nav aria-label="Groups">
          {groups.map(({ id, title }) => (
            <a key={id} href={`#group-${id}`}>
              {title}
            </a>
          ))}
        </nav>
      </div>
      {document.missing.length > 0 ? (
        <p className="note" role="note">
          Played without {document.missing.join(', ')}: abilities of a game are not known here. Their numbers stay in
          the file.
        </p>
      ) : null}
      {document.wrong ? (
        <p role="alert" className="wrong">
          {document.wrong.message}. The last good tuning stays in force.
        </p>
      ) : null}
      <div className="groups">
        {groups.map((of) => (
          <OneGroup key={of.id} loft={loft} {...of} stamp={`${groupStamp(loft, of.id, of.keys)}|${of.played}`} />
        ))}
        {groups.length === 0 ? <p className="note">No number is called that, or means it.</p> : null}
      </div>
      <Told loft={loft} />
    </>
  );
}

const KEYS_OF = Object.fromEntries(GROUPS.map(({ id, of }) => [id, KEYS.filter(({ key }) => of(key))]));

/** Which keys play an ability of the game's own. */
function playedBy({ session }: Loft, actions: readonly string[]): string {
  return actions
    .map((action) => `${action}: ${(session.keys.keys[action] ?? []).map((code) => code.replace(/^Key/, '')).join(', ') || 'no key'}`)
    .join('; ');
} // prettier-ignore

/** All that a group depends on. */
function groupStamp(loft: Loft, id: string, keys: readonly Key[]): string {
  const full = loft.document.motion.full as unknown as Record<string, unknown>;
  const jump = id === 'arc' ? Object.values(numbersOf(loft.document.motion)).join() : '';
  return `${full[id] !== undefined}|${jump}|${loft.looked}|${keys.map(({ key }) => stampOf(loft, key)).join(';')}`;
}

const OneGroup = memo(Group, (before, after) => before.stamp === after.stamp);

function Group({ loft, id, title, keys, played }: { loft: Loft; id: string; title: string; keys: readonly Key[]; played: string; stamp: string }): ReactNode {
  const isAbility = ABILITY_GROUPS.includes(id);
  const full = loft.document.motion.full as unknown as Record<string, unknown>;
  const isOn = !isAbility || full[id] !== undefined;
  return (
    <section id={`group-${id}`} aria-labelledby={`title-${id}`} className="group">
      <h2 id={`title-${id}`}>{title}</h2>
      {isAbility ? (
        <Switch isSelected={isOn} onChange={(on) => loft.edit([{ key: id, value: on ? {} : 'off' }])}>
          <span className="knob" aria-hidden="true" />
          {isOn ? 'on' : 'off'}
        </Switch>
      ) : null}
      {played === '' ? null : <p className="meaning">{played}</p>}
      {id === 'arc' ? <Pair loft={loft} /> : null}
      {isOn ? keys.map((key) => <Row key={key.key} loft={loft} of={key} stamp={stampOf(loft, key.key)} />) : null}
    </section>
  );
} // prettier-ignore

const GOAL = /^jump\.(height|riseTime|baseGravity|launchSpeed|reach|airTime)$/;

/** The pair that says the jump, as goals or as constants: the other is shown beside it. */
function Pair({ loft }: { loft: Loft }): ReactNode {
  const { document } = loft;
  const pair = pairOf(loft.document.tuning);
  const { motion } = document;
  const numbers = numbersOf(motion);
  return (
    <div className="pair">
      <Choice
        label="The jump is said by"
        value={pair}
        options={PAIRS.map(({ id, title }) => [id, title])}
        onChange={(next) =>
          loft.edit(
            next.split(' ').map((name) => ({ key: `jump.${name}`, value: numbersOf(loft.document.motion)[name]! })),
          )
        }
      />
      <dl aria-label="What that amounts to">
        {Object.entries(numbers)
          .filter(([name]) => !pair.split(' ').includes(name))
          .map(([name, value]) => (
            <div key={name}>
              <dt>{NAMES[name]}</dt>
              <dd>{Number(value.toPrecision(5))}</dd>
            </div>
          ))}
      </dl>
    </div>
  );
}

const NAMES: Readonly<Record<string, string>> = { height: 'height', riseTime: 'rise time, s', airTime: 'in the air, s', reach: 'reach', baseGravity: 'gravity', launchSpeed: 'launch speed' }; // prettier-ignore

/** All that a row depends on: the rest of the column need not be made anew while one number is dragged. */
function stampOf(loft: Loft, key: string): string {
  const { document } = loft;
  const wrong = document.wrong?.key === key ? document.wrong.message : '';
  const said = key.startsWith('jump.') ? pairOf(loft.document.tuning) : '';
  return `${document.name}|${print(valueIn(document.motion, key))}|${print(valueIn(document.saved, key))}|${wrong}|${said}|${document.saved.full.tile}`;
}

const print = (value: unknown): string => (typeof value === 'object' ? JSON.stringify(value) : String(value));

const Row = memo(KeyRow, (before, after) => before.stamp === after.stamp);

function KeyRow({ loft, of }: { loft: Loft; of: Key; stamp: string }): ReactNode {
  const { key } = of;
  const value = valueIn(loft.document.motion, key);
  const was = valueIn(loft.document.saved, key);
  const changed = JSON.stringify(value) !== JSON.stringify(was);
  const name = nameOf(key);
  if (GOAL.test(key) && !pairOf(loft.document.tuning).split(' ').includes(key.slice(5))) return null;
  if ((RELEASES as readonly string[]).includes(key) && value === undefined)
    return (
      <p className="row unset">
        <Button onPress={() => loft.edit([{ key, value: firstOf(loft, key) }, ...RELEASES.filter((other) => other !== key).map((other) => ({ key: other, value: undefined }))])}>
          Say it by: {name.toLowerCase()}
        </Button>
        <span className="meaning">{MEANINGS[key]}</span>
      </p>
    );
  const wrong = loft.document.wrong?.key === key ? loft.document.wrong.message : '';
  const reset = changed ? (
    <Button className="reset" aria-label={`${name} as in the file`} onPress={() => loft.reset(key)}>
      ↺
    </Button>
  ) : null;
  const about = (
    <span className="meaning" id={`about-${key}`}>
      {MEANINGS[key]}
    </span>
  );
  if ('unit' in of)
    return (
      <div className={`row${changed ? ' changed' : ''}`} data-key={key}>
        <Num loft={loft} of={of} name={name} value={value} was={was} />
        {reset}
        {about}
        {wrong === '' ? null : (
          <span role="alert" className="wrong">
            {wrong}
          </span>
        )}
      </div>
    );
  return (
    <div className={`row${changed ? ' changed' : ''}`} data-key={key}>
      {'choices' in of ? (
        <Choice label={name} value={String(value)} options={of.choices.map((choice) => [choice, choice])} onChange={(choice) => loft.edit([{ key, value: choice }])} />
      ) : 'switch' in of ? (
        <Switch isSelected={value === true} onChange={(on) => loft.edit([{ key, value: on }])}>
          <span className="knob" aria-hidden="true" />
          {name}
        </Switch>
      ) : (
        <List loft={loft} of={of} name={name} value={value} />
      )}
      {reset}
      {about}
    </div>
  );
} // prettier-ignore

/** What a way of letting go begins with: as near as may be to what there is. */
function firstOf({ document: { motion } }: Loft, key: string): number {
  if (key !== 'jump.lowestHop') return key === 'gravity.cutTo' ? 0.4 : 3;
  const found = sheet(motion).find(({ id }) => id === 'lowestHop');
  return Number((found?.value ?? motion.full.tile).toPrecision(4));
}

const UNSET: Readonly<Record<string, number>> = { 'run.air.speed': 7.5, 'gravity.fallRamp.to': 2, 'gravity.fallRamp.over': 0.4 }; // prettier-ignore

/** A number: slider, field, unit. */
function Num({ loft, of, name, value, was }: { loft: Loft; of: NumberKey; name: string; value: unknown; was: unknown }): ReactNode {
  const { key } = of;
  if (typeof value !== 'number')
    return value === of.word && of.word !== undefined ? (
      <Button onPress={() => loft.edit([{ key, value: of.default ?? 1 }])}>
        {name}: {of.word}. Give it a number
      </Button>
    ) : (
      <Button
        onPress={() => {
          const tile = loft.document.motion.full.tile;
          const scale = of.unit === 'speed' || of.unit === 'length' ? tile : 1;
          const ramp = key.startsWith('gravity.fallRamp.');
          loft.edit(ramp ? ['gravity.fallRamp.to', 'gravity.fallRamp.over'].map((one) => ({ key: one, value: UNSET[one]! })) : [{ key, value: key === 'run.air.speed' ? loft.document.motion.ground.speed : (UNSET[key] ?? of.default ?? 1) * scale }]);
        }}
      >
        Give a number: {name.toLowerCase()}
      </Button>
    );
  const around = typeof was === 'number' ? was : value;
  return <Dragged loft={loft} of={of} name={name} label={key} value={value} around={around} set={(next, gesture) => loft.edit([{ key, value: next }, ...partnerOf(loft, key)], gesture)} />;
} // prettier-ignore

/** A goal of the jump is written with the other of its pair, which stays as it is. */
function partnerOf(loft: Loft, key: string): { key: string; value: number }[] {
  if (!GOAL.test(key)) return [];
  return pairOf(loft.document.tuning)
    .split(' ')
    .map((name) => `jump.${name}`)
    .filter((other) => other !== key)
    .map((other) => ({ key: other, value: valueIn(loft.document.motion, other) as number }));
}

const FORMAT = { maximumFractionDigits: 6, useGrouping: false };

/** Rounded to the slider's own step, so that files hold numbers that people would write. */
function Dragged({ loft, of, name, label, value, around, set }: { loft: Loft; of: NumberKey; name: string; label: string; value: number; around: number; set: (value: number, gesture: string) => void }): ReactNode {
  const { least, most, step } = rangeFor(of, around, loft.document.saved);
  const [gesture, setGesture] = useState(0);
  const unit = UNITS[of.unit];
  const within = Math.min(Math.max(value, least), Math.max(most, value));
  const said = `${name} (${label})`;
  return (
    <div
      className="number"
      onFocus={() => loft.touch(of.key)}
      onPointerDown={() => loft.touch(of.key)}
      onBlur={() => loft.touch(undefined)}
    >
      <Slider
        aria-label={said}
        value={within}
        minValue={Math.min(least, within)}
        maxValue={Math.max(most, within)}
        step={step}
        onChange={(next) => set(Number((next as number).toPrecision(10)), `${label} ${gesture}`)}
        onChangeEnd={() => setGesture(gesture + 1)}
      >
        <Label className="name">{name}</Label>
        <SliderTrack className="track">
          <SliderThumb className="thumb" aria-label={said} />
        </SliderTrack>
      </Slider>
      <NumberField
        aria-label={`${said}${unit === '' ? '' : `, ${unit}`}`}
        value={value}
        formatOptions={FORMAT}
        minValue={of.least}
        maxValue={of.most}
        onChange={(next) => {
          if (!Number.isNaN(next)) set(next, '');
        }}
      >
        <Input aria-describedby={`about-${of.key}`} />
      </NumberField>
      <span className="unit" aria-hidden="true">
        {unit}
      </span>
    </div>
  );
} // prettier-ignore

/** A list: of numbers, each to drag; of words, each on or off. */
function List({ loft, of, name, value }: { loft: Loft; of: Extract<Key, { of: unknown }>; name: string; value: unknown }): ReactNode {
  const list = Array.isArray(value) || ArrayBuffer.isView(value) ? [...(value as Iterable<number | string>)] : [...of.default];
  const { key } = of;
  const set = (next: readonly (number | string)[], gesture = ''): void => loft.edit([{ key, value: next }], gesture);
  if ('choices' in of.of)
    return (
      <fieldset>
        <legend>{name}</legend>
        {of.of.choices.map((choice) => (
          <Switch key={choice} isSelected={list.includes(choice)} isDisabled={list.length === 1 && list[0] === choice} onChange={(on) => set(on ? [...list, choice] : list.filter((one) => one !== choice))}>
            <span className="knob" aria-hidden="true" />
            {choice}
          </Switch>
        ))}
      </fieldset>
    );
  const each = of.of;
  return (
    <fieldset>
      <legend>{name}</legend>
      {list.map((one, i) => (
        <Dragged key={i} loft={loft} of={{ ...each, key, default: 2.25 }} name={String(i + 1)} label={`${key} ${i + 1}`} value={Number(one)} around={Number(one)} set={(next, gesture) => set(list.map((other, k) => (k === i ? next : other)), gesture)} />
      ))}
      <Button isDisabled={list.length >= of.count} onPress={() => set([...list, list.at(-1) ?? 2.25])}>
        one more
      </Button>
      <Button isDisabled={list.length <= 1} onPress={() => set(list.slice(0, -1))}>
        one less
      </Button>
    </fieldset>
  );
} // prettier-ignore
