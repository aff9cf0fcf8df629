package ironsieve.traffic.protocol;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.util.function.BiConsumer;

/** What is said in one connection, read as it comes; what it shows is asked for at its end. */
public final class Conversation {

  private final ConnectionFacts shown;
  private final KeyLog keys;
  private StreamParser stream;
  private Parser datagrams;
  private byte[] firstUp;
  private byte[] firstDown;
  private int datagramsSeen;
  private boolean isTold;

  /**
   * A connection in which nothing was said yet.
   *
   * @param service protocol and destination port
   * @param server where it goes
   * @param keys secrets to open it with
   */
  public Conversation(Service service, Address server, KeyLog keys) {
    shown = new ConnectionFacts(service, server);
    this.keys = keys;
    stream = service.protocol() == Service.TCP ? new StreamParser(shown, keys, 0) : null;
  }

  /**
   * The next bytes of a stream, or a datagram.
   *
   * @param bytes only until this returns
   */
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    if (isTold || length == 0) {
      return;
    }
    shown.sized(byClient, length);
    if (stream != null) {
      stream.onBytes(byClient, bytes, offset, length);
    } else {
      datagram(byClient, bytes, offset, length);
    }
  }

  /** Bytes of the stream are missing here. */
  public void lost(boolean byClient) {
    if (stream != null) {
      stream.lost(byClient);
    }
  }

  private void datagram(boolean byClient, byte[] bytes, int offset, int length) {
    datagramsSeen++;
    if (byClient && firstUp == null) {
      firstUp = first(bytes, offset, length);
    } else if (!byClient && firstDown == null) {
      firstDown = first(bytes, offset, length);
    }
    if (datagrams == null && shown.service().protocol() == Service.UDP) {
      if (QuicParser.isInitial(bytes, offset, length)) {
        datagrams = new QuicParser(shown, keys);
      } else if (isDnsPort() && length >= 12
          || byClient && datagramsSeen == 1 && DnsParser.isQuestion(bytes, offset, length)) {
        datagrams = new DnsParser(shown, false, DnsParser.name(shown.service().detail()));
      }
    }
    if (datagrams != null) {
      datagrams.onBytes(byClient, bytes, offset, length);
    }
  }

  private boolean isDnsPort() {
    int port = shown.service().detail();
    return port == 53 || port == DnsParser.MULTICAST || port == DnsParser.LINK_LOCAL;
  }

  private static byte[] first(byte[] bytes, int offset, int length) {
    return java.util.Arrays.copyOfRange(
        bytes, offset, offset + Math.min(length, StreamParser.FIRST_BYTES));
  }

  /** Whether nothing that comes can show more. */
  public boolean isDone() {
    if (isTold) {
      return true;
    }
    if (stream != null) {
      return stream.isDone();
    }
    if (datagrams != null) {
      return datagrams.isDone() && firstDown != null;
    }
    return firstUp != null && firstDown != null && datagramsSeen > 16;
  }

  /** How many bytes of memory it holds, about. */
  public int held() {
    int first = (firstUp == null ? 0 : firstUp.length) + (firstDown == null ? 0 : firstDown.length);
    int read = stream == null ? datagrams == null ? 0 : datagrams.held() : stream.held();
    return 600 + first + read;
  }

  /** Hands on the names that addresses were said to have since the last time. */
  public void named(BiConsumer<Address, String> to) {
    shown.takeNamed(to);
  }

  /** What it has shown; nothing that is said afterwards is heard. */
  public ConnectionFacts facts() {
    if (!isTold) {
      isTold = true;
      if (stream != null) {
        stream.tell(shown);
        stream = null;
      }
      datagrams = null;
      tellFirst(shown);
      shown.merge();
    }
    return shown;
  }

  /**
   * What a connection that goes on has shown up to now. Of its requests those whose heads are read,
   * without those that {@link #forgetAnswered} let go.
   */
  public ConnectionFacts soFar() {
    ConnectionFacts copy = shown.soFar();
    if (stream != null) {
      stream.tell(copy);
    }
    tellFirst(copy);
    return copy;
  }

  private void tellFirst(ConnectionFacts to) {
    if (firstUp != null) {
      to.add(Fact.bytes(Field.CLIENT_BYTES, firstUp));
    }
    if (firstDown != null) {
      to.add(Fact.bytes(Field.SERVER_BYTES, firstDown));
    }
  }

  /**
   * Lets go of requests that are answered, so that those that follow are seen by themselves.
   *
   * @return whether there were any
   */
  public boolean forgetAnswered() {
    return shown.forgetAnswered();
  }

  /** Grows with whatever it shows that it had not shown before. */
  public long changes() {
    return shown.changes() + (stream == null ? 0 : stream.firstBytes());
  }

  /**
   * Whether the client is in the middle of what tells what it wants: not even that much can be read
   * yet, or the head of a request is not all there.
   */
  public boolean isMidHead() {
    return stream != null && stream.isMidHead();
  }

  /** Whether its first bytes are all that it shows: it is no protocol that is read further. */
  public boolean isOpaque() {
    return stream != null && stream.isOpaque();
  }
}
