package ironsieve.traffic.protocol;

import java.security.GeneralSecurityException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * The first packets of QUIC versions 1 and 2 (RFC 9000, 9001, 9369). Their keys come from the
 * connection id a client chose, so everybody who sees them can open them; the client's first
 * message lies in CRYPTO frames, in any order and over several packets.
 */
final class QuicTalk implements Talk {

  static final int VERSION_1 = 1;
  static final int VERSION_2 = 0x6B3343CF;
  private static final byte[] SALT_1 =
      java.util.HexFormat.of().parseHex("38762cf7f55934b34d179ae6a4c80cadccbb7f0a");
  private static final byte[] SALT_2 =
      java.util.HexFormat.of().parseHex("0dede3def700a6db819381be6e269dcbf9bd2ed9");
  private static final String SHA256 = "HmacSHA256";
  private static final int INITIAL = 0;
  private static final int MOST_KEYS = 4;
  private static final int MOST_TRIES = 64;
  private static final int LONGEST_HELLO = 1 << 16;

  private final Shown shown;
  private final Map<String, Keys> keys = new HashMap<>();
  private final Crypto client = new Crypto();
  private boolean isHelloRead;
  private int tries;

  /** The keys of one direction. */
  record Keys(byte[] key, byte[] iv, byte[] header) {}

  /** CRYPTO frames of one direction put in order. */
  private static final class Crypto {
    private final TreeMap<Integer, byte[]> waiting = new TreeMap<>();
    private final Hello.Messages messages = new Hello.Messages();
    private int next;
    private int held;

    private void add(long offset, byte[] bytes, Hello.Messages.Reader reader) {
      if (offset + bytes.length > LONGEST_HELLO || held + bytes.length > 2 * LONGEST_HELLO) {
        return;
      }
      byte[] before = waiting.putIfAbsent((int) offset, bytes);
      if (before == null) {
        held += bytes.length;
      } else if (before.length < bytes.length) {
        held += bytes.length - before.length;
        waiting.put((int) offset, bytes);
      }
      Map.Entry<Integer, byte[]> first = waiting.firstEntry();
      while (first != null && first.getKey() <= next) {
        waiting.pollFirstEntry();
        byte[] there = first.getValue();
        held -= there.length;
        int late = next - first.getKey();
        if (late < there.length) {
          next += there.length - late;
          messages.add(there, late, there.length - late, reader);
        }
        first = waiting.firstEntry();
      }
    }
  }

  QuicTalk(Shown shown) {
    this.shown = shown;
    shown.layer("QUIC");
  }

  /** Whether a datagram is a client's first packet of a version that is known. */
  static boolean isInitial(byte[] bytes, int offset, int length) {
    if (length < 20 || (bytes[offset] & 0xC0) != 0xC0) {
      return false;
    }
    int version = version(bytes, offset);
    int type = (bytes[offset] & 0x30) >> 4;
    int destination = bytes[offset + 5] & 0xFF;
    return (version == VERSION_1 && type == INITIAL || version == VERSION_2 && type == 1)
        && destination <= 20;
  }

  private static int version(byte[] bytes, int offset) {
    return (bytes[offset + 1] & 0xFF) << 24
        | (bytes[offset + 2] & 0xFF) << 16
        | (bytes[offset + 3] & 0xFF) << 8
        | bytes[offset + 4] & 0xFF;
  }

  @Override
  public void said(boolean byClient, byte[] bytes, int offset, int length) {
    if (isHelloRead || !byClient || tries >= MOST_TRIES) {
      return;
    }
    tries++;
    int at = offset;
    int end = offset + length;
    // Several packets may lie in one datagram.
    while (end - at >= 20 && (bytes[at] & 0x80) != 0 && !isHelloRead) {
      int next = packet(bytes, at, end);
      if (next <= at) {
        return;
      }
      at = next;
    }
  }

  /** Reads one packet with a long header; where the next one begins, or -1. */
  private int packet(byte[] bytes, int at, int end) {
    int version = version(bytes, at);
    if (version != VERSION_1 && version != VERSION_2) {
      return -1;
    }
    int type = (bytes[at] & 0x30) >> 4;
    int plainType = version == VERSION_2 ? type + 3 & 3 : type;
    ByteView view = new ByteView(bytes, at + 5, end - at - 5);
    byte[] destination = view.bytes(view.u8());
    view.skip(view.u8());
    if (plainType == INITIAL) {
      view.skip(view.varint());
    } else if (plainType == 3) {
      return -1; // A retry is the whole datagram.
    }
    long size = view.varint();
    int numberAt = view.at();
    if (view.isBeyond() || size > end - numberAt || size < 20) {
      return -1;
    }
    if (plainType == INITIAL) {
      initial(version, destination, bytes, at, numberAt, (int) size);
    }
    return numberAt + (int) size;
  }

  private void initial(
      int version, byte[] destination, byte[] bytes, int at, int numberAt, int size) {
    Keys own = keysFor(version, destination);
    Optional<byte[]> plain = own == null ? Optional.empty() : open(own, bytes, at, numberAt, size);
    if (plain.isEmpty()) {
      // After the server has answered, the client names another id and keeps the keys of its first.
      for (Keys known : keys.values()) {
        plain = open(known, bytes, at, numberAt, size);
        if (plain.isPresent()) {
          break;
        }
      }
    }
    plain.ifPresent(this::frames);
  }

  private Keys keysFor(int version, byte[] destination) {
    String of = version + Arrays.toString(destination);
    if (!keys.containsKey(of) && keys.size() >= MOST_KEYS) {
      return null;
    }
    return keys.computeIfAbsent(of, id -> clientKeys(version, destination));
  }

  static Keys clientKeys(int version, byte[] destination) {
    boolean isTwo = version == VERSION_2;
    byte[] initial = Secrets.extract(SHA256, isTwo ? SALT_2 : SALT_1, destination);
    byte[] secret = Secrets.expandLabel(SHA256, initial, "client in", 32);
    String prefix = isTwo ? "quicv2 " : "quic ";
    return new Keys(
        Secrets.expandLabel(SHA256, secret, prefix + "key", 16),
        Secrets.expandLabel(SHA256, secret, prefix + "iv", 12),
        Secrets.expandLabel(SHA256, secret, prefix + "hp", 16));
  }

  private static Optional<byte[]> open(Keys keys, byte[] bytes, int at, int numberAt, int size) {
    try {
      Cipher mask = Cipher.getInstance("AES/ECB/NoPadding");
      mask.init(Cipher.ENCRYPT_MODE, new SecretKeySpec(keys.header(), "AES"));
      byte[] hidden = mask.doFinal(bytes, numberAt + 4, 16);
      byte[] header = Arrays.copyOfRange(bytes, at, numberAt + 4);
      header[0] ^= (byte) (hidden[0] & 0x0F);
      int numberLength = (header[0] & 3) + 1;
      long number = 0;
      for (int i = 0; i < numberLength; i++) {
        int place = numberAt - at + i;
        header[place] ^= hidden[1 + i];
        number = number << 8 | header[place] & 0xFF;
      }
      byte[] nonce = keys.iv().clone();
      for (int i = 0; i < 8; i++) {
        nonce[11 - i] ^= (byte) (number >>> 8 * i);
      }
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(
          Cipher.DECRYPT_MODE,
          new SecretKeySpec(keys.key(), "AES"),
          new GCMParameterSpec(128, nonce));
      cipher.updateAAD(header, 0, numberAt - at + numberLength);
      return Optional.of(cipher.doFinal(bytes, numberAt + numberLength, size - numberLength));
    } catch (GeneralSecurityException e) {
      return Optional.empty();
    }
  }

  private void frames(byte[] plain) {
    ByteView view = new ByteView(plain, 0, plain.length);
    while (view.left() > 0 && !view.isBeyond()) {
      long type = view.varint();
      if (type == 0 || type == 1) {
        continue; // Padding, ping.
      }
      if (type == 2 || type == 3) {
        acknowledgement(view, type == 3);
      } else if (type == 6) {
        long offset = view.varint();
        byte[] data = view.bytes(Math.min(view.varint(), LONGEST_HELLO));
        if (!view.isBeyond()) {
          client.add(offset, data, this::message);
        }
      } else {
        return; // Closed, or what no first packet holds.
      }
    }
  }

  private static void acknowledgement(ByteView view, boolean hasMarks) {
    view.varint();
    view.varint();
    long ranges = view.varint();
    view.varint();
    for (long i = 0; i < ranges && !view.isBeyond(); i++) {
      view.varint();
      view.varint();
    }
    for (int i = 0; hasMarks && i < 3; i++) {
      view.varint();
    }
  }

  private void message(int type, ByteView body) {
    if (type == Hello.CLIENT_HELLO) {
      isHelloRead = true;
      Hello.client(body, shown);
    }
  }

  @Override
  public void lost(boolean byClient) {
    // Datagrams are lost without anybody telling.
  }

  @Override
  public boolean isDone() {
    return isHelloRead || tries >= MOST_TRIES;
  }

  @Override
  public int held() {
    return client.held + client.messages.held();
  }
}
