package ironsieve.traffic.protocol;

import ironsieve.region.Address;
import java.util.HashSet;
import java.util.Set;

/**
 * DNS (RFC 1035) in datagrams and, with a length before each message, in streams (RFC 7766): the
 * names that are asked for, and which addresses have them.
 */
final class DnsParser implements Parser {

  /** The port of multicast DNS (RFC 6762): the same messages, asked of everybody near. */
  static final int MULTICAST = 5353;

  /** The port of link-local multicast name resolution (RFC 4795). */
  static final int LINK_LOCAL = 5355;

  private static final int HEAD = 12;
  private static final int MOST_LABELS = 128;
  private static final int LONGEST_NAME = 255;
  private static final int MOST_RECORDS = 256;
  private static final int A = 1;
  private static final int AAAA = 28;

  private final ConnectionFacts shown;
  private final boolean isStream;
  private final ByteRow client;
  private final ByteRow server;
  private boolean isLost;

  DnsParser(ConnectionFacts shown, boolean isStream, String name) {
    this.shown = shown;
    this.isStream = isStream;
    client = new ByteRow(isStream ? 65_537 : 0);
    server = new ByteRow(isStream ? 65_537 : 0);
    shown.layer(name);
  }

  /** What the messages at a port are called. */
  static String name(int port) {
    return switch (port) {
      case MULTICAST -> "mDNS";
      case LINK_LOCAL -> "LLMNR";
      default -> "DNS";
    };
  }

  /** Whether some bytes are a question as a client sends it. */
  static boolean isQuestion(byte[] bytes, int offset, int length) {
    if (length < HEAD + 5) {
      return false;
    }
    int flags = (bytes[offset + 2] & 0xFF) << 8 | bytes[offset + 3] & 0xFF;
    int questions = (bytes[offset + 4] & 0xFF) << 8 | bytes[offset + 5] & 0xFF;
    int answers = (bytes[offset + 6] & 0xFF) << 8 | bytes[offset + 7] & 0xFF;
    boolean isQuery = (flags & 0xF800) == 0 && questions == 1 && answers == 0;
    return isQuery && !name(bytes, offset, length, HEAD, new int[1]).isEmpty();
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    if (!isStream) {
      message(bytes, offset, length);
      return;
    }
    if (isLost) {
      return;
    }
    ByteRow row = byClient ? client : server;
    int at = offset;
    int left = length;
    while (left > 0) {
      int taken = row.add(bytes, at, left);
      at += taken;
      left -= taken;
      while (row.size() >= 2 && row.size() >= 2 + row.u16(0)) {
        int size = row.u16(0);
        message(row.array(), row.start() + 2, size);
        row.drop(2 + size);
      }
      if (taken == 0) {
        lost(byClient);
        return;
      }
    }
  }

  private void message(byte[] bytes, int offset, int length) {
    if (length < HEAD) {
      return;
    }
    ByteView view = new ByteView(bytes, offset, length);
    view.skip(2);
    int flags = view.u16();
    int questions = view.u16();
    int answers = view.u16();
    boolean isAnswer = (flags & 0x8000) != 0;
    int[] at = {HEAD};
    String asked = "";
    for (int i = 0; i < Math.min(questions, 4); i++) {
      String name = name(bytes, offset, length, at[0], at);
      if (name.isEmpty()) {
        return;
      }
      at[0] += 4;
      asked = i == 0 ? name : asked;
      if (!isAnswer) {
        String known = name;
        shown.request().ifPresent(request -> request.add(Fact.of(Field.DNS_NAME, known)));
      }
    }
    if (isAnswer && !asked.isEmpty()) {
      answers(bytes, offset, length, at, Math.min(answers, MOST_RECORDS), Fact.name(asked));
    }
  }

  private void answers(byte[] bytes, int offset, int length, int[] at, int count, String asked) {
    for (int i = 0; i < count; i++) {
      name(bytes, offset, length, at[0], at);
      if (at[0] < 0 || at[0] + 10 > length) {
        return;
      }
      ByteView record = new ByteView(bytes, offset + at[0], length - at[0]);
      int type = record.u16();
      record.skip(6);
      int size = record.u16();
      if (size > record.left()) {
        return;
      }
      if (type == A && size == 4) {
        shown.names(Address.v4(record.u32()), asked);
      } else if (type == AAAA && size == 16) {
        long high = record.u32() << 32 | record.u32();
        shown.names(
            new Address(Address.Version.V6, high, record.u32() << 32 | record.u32()), asked);
      }
      at[0] += 10 + size;
    }
  }

  /**
   * Reads a name.
   *
   * @param from where it begins, counted from the message's first byte
   * @param after is told where what follows begins; -1 where it cannot be read
   */
  private static String name(byte[] bytes, int offset, int length, int from, int[] after) {
    StringBuilder name = new StringBuilder();
    Set<Integer> seen = new HashSet<>();
    int at = from;
    boolean isJumped = false;
    after[0] = -1;
    for (int labels = 0; labels < MOST_LABELS; labels++) {
      if (at >= length) {
        return "";
      }
      int size = bytes[offset + at] & 0xFF;
      if (size >= 0xC0) {
        if (at + 1 >= length || !seen.add(at)) {
          return "";
        }
        if (!isJumped) {
          after[0] = at + 2;
          isJumped = true;
        }
        at = (size & 0x3F) << 8 | bytes[offset + at + 1] & 0xFF;
        continue;
      }
      if (size == 0) {
        if (!isJumped) {
          after[0] = at + 1;
        }
        return name.isEmpty() ? "." : name.toString();
      }
      if (size > 63 || at + 1 + size > length || name.length() + size > LONGEST_NAME) {
        return "";
      }
      if (!name.isEmpty()) {
        name.append('.');
      }
      name.append(ConnectionFacts.latin(bytes, offset + at + 1, size));
      at += 1 + size;
    }
    return "";
  }

  @Override
  public void lost(boolean byClient) {
    isLost = true;
    client.clear();
    server.clear();
    shown.broken();
  }

  @Override
  public boolean isDone() {
    return isLost;
  }

  @Override
  public int held() {
    return client.held() + server.held();
  }
}
