import type { DeliveryOrder } from "../api/client";
import { grouped } from "../base/grouped";

/** In which wave each gateway is told (the first where nothing is said), after how many minutes, and not before when. */
export type Order = { waveOf: Record<string, number>; minutes: number; begins: string };

/** All at once, and now. */
export const AT_ONCE: Order = { waveOf: {}, minutes: 10, begins: "" };

/** The number of a gateway's wave, from 1 on. */
export const waveOf = (order: Order, gateway: string) => order.waveOf[gateway] ?? 1;

/** The gateways that are told together, the first first. */
export const wavesOf = (order: Order, gateways: string[]) =>
  grouped(gateways, (name) => waveOf(order, name))
    .sort(([one], [other]) => one - other)
    .map(([, wave]) => wave);

/** As it is sent: the gateways wave by wave; nothing where all are told at once. */
export function request(order: Order, gateways: string[]): DeliveryOrder | undefined {
  const waves = wavesOf(order, gateways);
  const begins = order.begins ? new Date(order.begins).toISOString() : undefined;
  if (waves.length < 2 && !begins) return undefined;
  return { waves: waves.length < 2 ? [] : waves, minutes: order.minutes, begins };
}
