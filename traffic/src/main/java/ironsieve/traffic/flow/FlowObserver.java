package ironsieve.traffic.flow;

/**
 * Told what goes on in each flow.
 *
 * @param <C> what it keeps with a flow
 */
public interface FlowObserver<C> {

  /**
   * Something was said: of TCP the next bytes in order, of other protocols one packet's payload.
   *
   * @param bytes only until this returns
   */
  void onBytes(Flow<C> flow, boolean byClient, byte[] bytes, int offset, int length);

  /** Of a TCP stream some bytes are missing here. */
  void lost(Flow<C> flow, boolean byClient);

  /**
   * Whether it holds as much as it may; then the flow that was silent for the longest time ends.
   */
  boolean isFull();

  /** Nothing more belongs to this flow. */
  void ended(Flow<C> flow);
}
