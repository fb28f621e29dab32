import type { Character, EventName, StageEvent } from 'apperin';

/** Short sounds, made here: no files. */
export interface Sounds {
  on: boolean;
}

type Event = Readonly<StageEvent>;

export function sounds(hero: Character): Sounds {
  let context: AudioContext | undefined;
  const state = { on: true };
  // A page may sound only once it has been touched.
  for (const name of ['keydown', 'pointerdown']) addEventListener(name, () => (context ??= new AudioContext()));

  /** A tone that slides from one pitch to another, Hz, and fades within so many seconds. */
  const tone = (from: number, to: number, seconds: number, volume: number, type: OscillatorType = 'sine'): void => {
    if (!context || !state.on) return;
    const now = context.currentTime;
    const [voice, gain] = [context.createOscillator(), context.createGain()];
    voice.type = type;
    voice.frequency.setValueAtTime(from, now);
    voice.frequency.exponentialRampToValueAtTime(to, now + seconds);
    gain.gain.setValueAtTime(volume, now);
    gain.gain.exponentialRampToValueAtTime(0.001, now + seconds);
    voice.connect(gain).connect(context.destination);
    voice.start();
    voice.stop(now + seconds);
  };
  /** A rush of noise below a pitch, Hz. */
  const rush = (below: number, seconds: number, volume: number): void => {
    if (!context || !state.on) return;
    const { sampleRate, currentTime } = context;
    const buffer = context.createBuffer(1, Math.ceil(sampleRate * seconds), sampleRate);
    const data = buffer.getChannelData(0);
    for (let i = 0; i < data.length; i++) data[i] = (Math.random() * 2 - 1) * (1 - i / data.length);
    const [source, filter, gain] = [context.createBufferSource(), context.createBiquadFilter(), context.createGain()];
    source.buffer = buffer;
    filter.frequency.value = below;
    gain.gain.setValueAtTime(volume, currentTime);
    source.connect(filter).connect(gain).connect(context.destination);
    source.start();
  };

  /** Which event sounds how. */
  const sounding: { [E in EventName]?: (event: Event) => void } = {
    takeoff: ({ by }) => tone(by === 'charge' ? 180 : 260, by === 'air' ? 720 : 520, 0.14, 0.12),
    touchdown: ({ speed }) => rush(300 + 20 * speed, 0.12, Math.min(0.5, speed / 40)),
    footfall: () => rush(900, 0.04, 0.08),
    bump: ({ speed }) => rush(500, 0.08, Math.min(0.3, speed / 30)),
    cling: () => rush(1500, 0.15, 0.08),
    hang: () => tone(340, 300, 0.08, 0.1, 'triangle'),
    climbed: () => tone(300, 420, 0.12, 0.08, 'triangle'),
    glideOn: () => rush(700, 0.4, 0.1),
    dropThrough: () => tone(300, 160, 0.15, 0.1),
    board: () => tone(140, 120, 0.15, 0.12, 'square'),
    crushed: () => rush(200, 0.4, 0.6),
    enter: ({ tags }) => {
      if (tags.includes('hazard')) rush(400, 0.6, 0.4);
      if (tags.includes('checkpoint')) tone(660, 880, 0.3, 0.1);
      if (tags.includes('boots')) tone(440, 1320, 0.4, 0.1);
      if (tags.includes('goal')) for (const pitch of [523, 659, 784]) tone(pitch, pitch * 0.99, 1.8, 0.12);
    },
  };
  for (const name of Object.keys(sounding) as EventName[]) hero.on(name, sounding[name]!);
  return state;
}
