/** Viewport sizes to choose from: common ones, and those the user kept. */
import { z } from 'zod';

const COMMON = [
  { width: 320, height: 640, name: 'small phone' },
  { width: 360, height: 800, name: 'phone' },
  { width: 412, height: 915, name: 'large phone' },
  { width: 768, height: 1024, name: 'tablet' },
  { width: 1024, height: 768, name: 'tablet, lying' },
  { width: 1280, height: 800, name: 'laptop' },
  { width: 1440, height: 900, name: 'desk' },
  { width: 1920, height: 1080, name: 'wide' },
];
/** Devices that read the viewport meta element. `ratio`: pixels of the screen to a CSS px at zoom 1. */
const DEVICES = [
  { width: 320, height: 568, ratio: 2, name: 'small phone' },
  { width: 360, height: 800, ratio: 3, name: 'phone' },
  { width: 412, height: 915, ratio: 2.625, name: 'large phone' },
  { width: 768, height: 1024, ratio: 2, name: 'tablet' },
  { width: 1024, height: 1366, ratio: 2, name: 'large tablet' },
];
export type Device = (typeof DEVICES)[number];
const OWN_DEVICES = 'own-devices';
const KEY = 'own-sizes';

function kept(): string[] {
  const parsed = z
    .array(z.string().regex(/^\d+x\d+$/))
    .safeParse(JSON.parse(localStorage.getItem(KEY) ?? '[]'));
  return parsed.success ? parsed.data : [];
}

let keptSizes = $state<string[]>(kept());

function store(next: string[]): void {
  keptSizes = next;
  localStorage.setItem(KEY, JSON.stringify(next));
}

const deviceSchema = z.object({
  width: z.number().int().min(100).max(4000),
  height: z.number().int().min(100).max(8000),
  ratio: z.number().min(0.5).max(8),
  name: z.string().min(1).max(60),
});

function keptDevices(): Device[] {
  const parsed = z.array(deviceSchema).safeParse(JSON.parse(localStorage.getItem(OWN_DEVICES) ?? '[]'));
  return parsed.success ? parsed.data : [];
}

let ownDevices = $state.raw<Device[]>(keptDevices());

function storeDevices(next: Device[]): void {
  ownDevices = next;
  localStorage.setItem(OWN_DEVICES, JSON.stringify(next));
}

/** Common devices and those that the user described. */
export const devices = {
  get all(): Device[] {
    return [...DEVICES, ...ownDevices];
  },
  isOwn: ({ name }: Device): boolean => ownDevices.some((ownDevice) => ownDevice.name === name),
  /** Keeps a device under its name. Throws where it is none. */
  keep: (device: Device): void => {
    const parsed = deviceSchema.safeParse(device);
    if (!parsed.success)
      throw new Error(
        'A device is 100 to 4000 px wide, 100 to 8000 px tall, has a pixel ratio of 0.5 to 8, and a name.',
      );
    storeDevices([...ownDevices.filter(({ name }) => name !== device.name), parsed.data]);
  },
  drop: ({ name }: Device): void => storeDevices(ownDevices.filter((ownDevice) => ownDevice.name !== name)),
};

export const sizes = {
  common: COMMON,
  get own(): string[] {
    return keptSizes;
  },
  keep: (width: number, height: number): void => store([...new Set([...keptSizes, `${width}x${height}`])]),
  drop: (size: string): void => store(keptSizes.filter((text) => text !== size)),
};
