package ironsieve.traffic.protocol;

import java.util.Arrays;
import java.util.Optional;

/**
 * TLS over a stream (RFC 8446, RFC 5246): what its handshake shows, and with the session's secrets
 * what is said inside.
 */
final class TlsParser implements Parser {

  static final int CHANGE = 20;
  static final int HANDSHAKE = 22;
  static final int DATA = 23;

  private static final int FINISHED = 20;
  private static final int KEY_UPDATE = 24;
  private static final int LONGEST_RECORD = 16_384 + 2_048;
  private static final int TLS_13 = Hello.TLS_13;

  private final ConnectionFacts shown;
  private final KeyLog keys;
  private final int depth;
  private final Direction client = new Direction(true);
  private final Direction server = new Direction(false);
  private byte[] clientRandom = new byte[0];
  private Hello.Chosen chosen;
  private Optional<RecordCipher.Suite> suite = Optional.empty();
  private StreamParser inside;
  private boolean isDone;

  /** One direction: its records, its messages, and how it is opened by now. */
  private final class Direction {
    private final boolean isClient;
    private final ByteRow record = new ByteRow(5 + LONGEST_RECORD);
    private Hello.Messages messages = new Hello.Messages();
    private boolean isEncrypted;
    private RecordCipher cipher;
    private byte[] secret = new byte[0];
    private boolean isLost;

    private Direction(boolean isClient) {
      this.isClient = isClient;
    }
  }

  TlsParser(ConnectionFacts shown, KeyLog keys, int depth) {
    this.shown = shown;
    this.keys = keys;
    this.depth = depth;
    shown.layer("TLS");
  }

  @Override
  public void onBytes(boolean byClient, byte[] bytes, int offset, int length) {
    Direction direction = byClient ? client : server;
    int at = offset;
    int left = length;
    while (left > 0 && !direction.isLost && !isDone) {
      int taken = direction.record.add(bytes, at, left);
      at += taken;
      left -= taken;
      if (!records(direction) && taken == 0) {
        direction.isLost = true;
      }
    }
  }

  /** Reads the records that are whole; whether there was one. */
  private boolean records(Direction direction) {
    ByteRow row = direction.record;
    boolean any = false;
    while (row.size() >= 5 && !isDone) {
      int type = row.u8(0);
      int length = row.u16(3);
      if (type < CHANGE || type > DATA + 1 || row.u8(1) != 3 || length > LONGEST_RECORD) {
        lost(direction.isClient);
        return false;
      }
      if (row.size() < 5 + length) {
        return any;
      }
      record(direction, type, row.copy(0, 5), row.array(), row.start() + 5, length);
      row.drop(5 + length);
      any = true;
    }
    return any;
  }

  private void record(
      Direction direction, int type, byte[] header, byte[] bytes, int offset, int length) {
    if (type == CHANGE) {
      changed(direction);
      return;
    }
    if (!direction.isEncrypted && type == HANDSHAKE) {
      direction.messages.add(bytes, offset, length, (kind, body) -> message(direction, kind, body));
      return;
    }
    boolean isEncrypted = direction.isEncrypted || type == DATA;
    if (!isEncrypted) {
      return;
    }
    if (chosen == null && type == DATA && direction.isClient && clientRandom.length > 0) {
      return; // Sent before the server has answered.
    }
    if (direction.cipher == null) {
      isDone |= isEnough();
      return;
    }
    Optional<byte[]> plain = direction.cipher.open(header, bytes, offset, length);
    if (plain.isPresent()) {
      opened(direction, type, plain.get());
    }
  }

  /** Without keys nothing more is to be seen once both have begun to encrypt. */
  private boolean isEnough() {
    return clientRandom.length == 0 || chosen != null || server.isLost || client.isLost;
  }

  private void message(Direction direction, int type, ByteView body) {
    if (direction.isClient && type == Hello.CLIENT_HELLO) {
      clientRandom = Hello.client(body, shown);
    } else if (!direction.isClient && type == Hello.SERVER_HELLO) {
      chosen = Hello.server(body, shown);
      if (chosen.isRetry()) {
        chosen = null;
        return;
      }
      suite = RecordCipher.Suite.of(chosen.suite());
      if (chosen.version() == TLS_13) {
        handshakeKeys();
      }
    } else if (!direction.isClient
        && type == Hello.CERTIFICATE
        && chosen != null
        && chosen.version() < TLS_13) {
      Hello.certificate(body, shown);
    }
  }

  private void handshakeKeys() {
    server.isEncrypted = true;
    client.isEncrypted = true;
    use(server, KeyLog.SERVER_HANDSHAKE);
    use(client, KeyLog.CLIENT_HANDSHAKE);
    server.messages = new Hello.Messages();
    client.messages = new Hello.Messages();
  }

  private void use(Direction direction, String label) {
    Optional<byte[]> secret = keys.secret(label, clientRandom);
    direction.cipher = null;
    if (suite.isPresent() && secret.isPresent()) {
      direction.secret = secret.get();
      direction.cipher = RecordCipher.ofSecret(suite.get(), direction.secret);
    }
  }

  /** The word of TLS 1.2 that everything from here on is encrypted; of 1.3 it means nothing. */
  private void changed(Direction direction) {
    if (chosen == null || chosen.version() == TLS_13) {
      return;
    }
    direction.isEncrypted = true;
    Optional<byte[]> master = keys.secret(KeyLog.MASTER, clientRandom);
    if (suite.isEmpty() || master.isEmpty()) {
      return;
    }
    RecordCipher.Suite how = suite.get();
    int each = how.mac() + how.key() + how.fixedIv();
    byte[] block =
        Secrets.prf(
            how.hash(),
            master.get(),
            "key expansion",
            Secrets.join(chosen.random(), clientRandom),
            2 * each);
    int keyAt = 2 * how.mac() + (direction.isClient ? 0 : how.key());
    int ivAt = 2 * how.mac() + 2 * how.key() + (direction.isClient ? 0 : how.fixedIv());
    direction.cipher =
        RecordCipher.ofKey(
            how,
            chosen.isMacLast(),
            Arrays.copyOfRange(block, keyAt, keyAt + how.key()),
            Arrays.copyOfRange(block, ivAt, ivAt + how.fixedIv()));
  }

  private void opened(Direction direction, int outer, byte[] plain) {
    int type = outer;
    int length = plain.length;
    if (chosen != null && chosen.version() == TLS_13) {
      while (length > 0 && plain[length - 1] == 0) {
        length--;
      }
      if (length == 0) {
        return;
      }
      type = plain[--length] & 0xFF;
    }
    if (type == HANDSHAKE) {
      direction.messages.add(
          plain, 0, length, (kind, body) -> encryptedMessage(direction, kind, body));
    } else if (type == DATA && length > 0) {
      if (inside == null) {
        shown.opened();
        inside = new StreamParser(shown, keys, depth + 1);
      }
      inside.onBytes(direction.isClient, plain, 0, length);
      isDone |= inside.isDone();
    }
  }

  private void encryptedMessage(Direction direction, int type, ByteView body) {
    if (chosen == null || chosen.version() != TLS_13) {
      return;
    }
    if (type == FINISHED) {
      use(direction, direction.isClient ? KeyLog.CLIENT_DATA : KeyLog.SERVER_DATA);
    } else if (type == KEY_UPDATE && suite.isPresent()) {
      String hash = suite.get().hash();
      direction.secret =
          Secrets.expandLabel(hash, direction.secret, "traffic upd", direction.secret.length);
      direction.cipher = RecordCipher.ofSecret(suite.get(), direction.secret);
    } else if (type == Hello.CERTIFICATE && !direction.isClient) {
      body.skip(body.u8());
      Hello.certificate(body, shown);
    }
  }

  @Override
  public void lost(boolean byClient) {
    Direction direction = byClient ? client : server;
    direction.isLost = true;
    direction.record.clear();
    direction.messages.giveUp();
    shown.broken();
    if (inside != null) {
      inside.lost(byClient);
    }
    isDone |= client.isLost && server.isLost;
  }

  /** Whether the client's hello is not all there. */
  boolean isMidHello() {
    return !isDone && clientRandom.length == 0 && !client.isLost && !client.isEncrypted;
  }

  @Override
  public boolean isDone() {
    return isDone;
  }

  void tell(ConnectionFacts to) {
    if (inside != null) {
      inside.tell(to);
    }
  }

  @Override
  public int held() {
    return client.record.held()
        + server.record.held()
        + client.messages.held()
        + server.messages.held()
        + (inside == null ? 0 : inside.held());
  }
}
