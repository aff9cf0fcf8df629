import { type Order, waveOf, wavesOf } from "./order";

type Props = { gateways: string[]; order: Order; set: (order: Order) => void };

/** Which gateways are told before others, how long the others wait, and when it begins. */
export function OrderFields({ gateways, order, set }: Props) {
  const isSeveral = wavesOf(order, gateways).length > 1;
  return (
    <details className="w-full text-xs">
      <summary className="cursor-pointer text-dim">
        {isSeveral ? "Some gateways are told before others" : "All gateways are told at once"}
        {order.begins && ", later"}
      </summary>
      <div className="flex flex-wrap items-end gap-3 py-1 pl-4">
        {gateways.length > 1 &&
          gateways.map((name) => (
            <label key={name} className="flex flex-col text-dim">
              {name}
              <select
                className="field text-ink"
                value={waveOf(order, name)}
                onChange={(event) =>
                  set({ ...order, waveOf: { ...order.waveOf, [name]: Number(event.target.value) } })
                }
              >
                {gateways.map((other, at) => (
                  <option key={other} value={at + 1}>
                    {at === 0 ? "first" : `wave ${at + 1}`}
                  </option>
                ))}
              </select>
            </label>
          ))}
        {isSeveral && (
          <label className="flex flex-col text-dim">
            Minutes before the next
            <input
              type="number"
              min={0}
              max={10080}
              className="field w-24 text-ink"
              value={order.minutes}
              onChange={(event) => set({ ...order, minutes: Number(event.target.value) })}
            />
          </label>
        )}
        <label className="flex flex-col text-dim">
          Not before
          <input
            type="datetime-local"
            className="field text-ink"
            value={order.begins}
            onChange={(event) => set({ ...order, begins: event.target.value })}
          />
        </label>
        {isSeveral && (
          <span className="max-w-96 text-dim">
            The next are told once all before them have had it in force for that long; one that fails holds
            the others back.
          </span>
        )}
      </div>
    </details>
  );
}
