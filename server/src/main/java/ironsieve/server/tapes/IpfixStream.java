package ironsieve.server.tapes;

import io.vertx.core.buffer.Buffer;
import io.vertx.core.net.NetSocket;
import ironsieve.traffic.log.Ipfix;

/** Messages of IPFIX in a stream: each says how long it is. */
final class IpfixStream {
  private final LiveTape tape;
  private final NetSocket socket;
  private Buffer waiting = Buffer.buffer();

  IpfixStream(LiveTape tape, NetSocket socket) {
    this.tape = tape;
    this.socket = socket;
  }

  /** Takes what came next. */
  void bytes(Buffer more) {
    waiting.appendBuffer(more);
    while (waiting.length() >= Ipfix.SHORTEST) {
      int length = Ipfix.length(waiting.getBytes(0, Ipfix.SHORTEST), 0, Ipfix.SHORTEST);
      if (length == 0) {
        if (!tape.isForeign(waiting.getBytes())) {
          tape.refuse();
        }
        socket.close();
        return;
      }
      if (waiting.length() < length) {
        return;
      }
      tape.flows(socket.remoteAddress().host(), waiting.getBytes(0, length));
      waiting = waiting.getBuffer(length, waiting.length());
    }
  }
}
