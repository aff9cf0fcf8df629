package ironsieve.traffic.protocol;

/** One layer of what is said in a connection, read as it comes. */
interface Parser {

  /**
   * The next bytes of one direction.
   *
   * @param bytes only until this returns
   */
  void onBytes(boolean byClient, byte[] bytes, int offset, int length);

  /** Bytes of one direction are missing here. */
  void lost(boolean byClient);

  /** Whether nothing that comes can show more. */
  boolean isDone();

  /** How many bytes it holds. */
  int held();
}
