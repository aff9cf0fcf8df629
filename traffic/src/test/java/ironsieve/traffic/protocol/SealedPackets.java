package ironsieve.traffic.protocol;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.Arrays;
import java.util.HexFormat;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/** Packets of QUIC sealed as RFC 9001 says, of a session of which the secrets are known. */
public final class SealedPackets {

  /** What the client's random number is in the hellos made here. */
  private static final byte[] RANDOM = new byte[32];

  private static final byte[] ID = HexFormat.of().parseHex("8394c8f03e515708");
  private static final byte[] SECRET = new byte[32];

  private SealedPackets() {}

  static QuicKeys.Material clientKeys(int version, byte[] id) {
    return QuicKeys.Material.of(
        version, QuicKeys.INITIAL_SUITE, QuicKeys.initialSecret(version, id, true));
  }

  /** The secrets of the session, of both directions the same. */
  public static KeyLog secrets() {
    HexFormat hex = HexFormat.of();
    KeyLog log = new KeyLog();
    for (String label : new String[] {KeyLog.CLIENT_DATA, KeyLog.SERVER_DATA}) {
      log.add(label + " " + hex.formatHex(RANDOM) + " " + hex.formatHex(SECRET));
    }
    return log;
  }

  /** A client's first message, which asks for HTTP/3. */
  static byte[] hello(String name) throws IOException {
    ByteArrayOutputStream extensions = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(extensions);
    byte[] host = name.getBytes(StandardCharsets.US_ASCII);
    out.writeShort(0);
    out.writeShort(host.length + 5);
    out.writeShort(host.length + 3);
    out.writeByte(0);
    out.writeShort(host.length);
    out.write(host);
    out.writeShort(16);
    out.writeShort(5);
    out.writeShort(3);
    out.writeByte(2);
    out.writeBytes("h3");
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    out = new DataOutputStream(body);
    out.writeShort(0x0303);
    out.write(RANDOM);
    out.writeByte(0);
    out.writeShort(2);
    out.writeShort(0x1301);
    out.writeShort(0x0100);
    out.writeShort(extensions.size());
    out.write(extensions.toByteArray());
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    out = new DataOutputStream(all);
    out.writeByte(1);
    out.writeByte(0);
    out.writeShort(body.size());
    out.write(body.toByteArray());
    return all.toByteArray();
  }

  /** A first packet with some of a client's first message. */
  static byte[] initial(int version, byte[] id, int number, int offset, byte[] some)
      throws IOException, GeneralSecurityException {
    ByteArrayOutputStream frames = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(frames);
    out.writeByte(1); // A ping, which is to be passed over.
    out.writeByte(6);
    out.writeShort(0x4000 | offset);
    out.writeShort(0x4000 | some.length);
    out.write(some);
    out.write(new byte[40]);
    byte[] plain = frames.toByteArray();
    ByteArrayOutputStream head = new ByteArrayOutputStream();
    out = new DataOutputStream(head);
    out.writeByte(version == QuicKeys.VERSION_2 ? 0xD1 : 0xC1);
    out.writeInt(version);
    out.writeByte(id.length);
    out.write(id);
    out.writeByte(0);
    out.writeByte(0);
    out.writeShort(0x4000 | plain.length + 18);
    out.writeShort(number);
    return sealed(clientKeys(version, ID), head.toByteArray(), number, plain);
  }

  /** A packet that says the server's connection id has no bytes, and nothing that can be read. */
  public static byte[] ofServer() {
    byte[] packet = new byte[40];
    packet[0] = (byte) 0xE1;
    packet[4] = 1;
    packet[7] = 0x40;
    packet[8] = 30;
    return packet;
  }

  /** A client's first packet of version 1 with all of its first message. */
  public static byte[] first(String name) {
    try {
      return initial(QuicKeys.VERSION_1, ID, 0, 0, hello(name));
    } catch (IOException | GeneralSecurityException e) {
      throw new IllegalStateException("written to memory", e);
    }
  }

  /** A packet with a short header and these frames, at least two bytes. */
  public static byte[] data(int number, byte[] frames) {
    byte[] header = {0x41, (byte) (number >> 8), (byte) number};
    QuicKeys.Material keys =
        QuicKeys.Material.of(QuicKeys.VERSION_1, QuicKeys.INITIAL_SUITE, SECRET);
    try {
      return sealed(keys, header, number, frames);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has these ciphers", e);
    }
  }

  /** Seals a packet whose number are the last two bytes of its header. */
  private static byte[] sealed(QuicKeys.Material keys, byte[] header, int number, byte[] plain)
      throws GeneralSecurityException {
    byte[] nonce = keys.iv().clone();
    nonce[11] ^= (byte) number;
    nonce[10] ^= (byte) (number >> 8);
    Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
    cipher.init(
        Cipher.ENCRYPT_MODE,
        new SecretKeySpec(keys.key(), "AES"),
        new GCMParameterSpec(128, nonce));
    cipher.updateAAD(header);
    byte[] sealed = cipher.doFinal(plain);
    Cipher mask = Cipher.getInstance("AES/ECB/NoPadding");
    mask.init(Cipher.ENCRYPT_MODE, new SecretKeySpec(keys.hiding(), "AES"));
    byte[] hidden = mask.doFinal(sealed, 2, 16);
    header[0] ^= (byte) (hidden[0] & (header.length > 3 ? 15 : 31));
    header[header.length - 2] ^= hidden[1];
    header[header.length - 1] ^= hidden[2];
    byte[] whole = Arrays.copyOf(header, header.length + sealed.length);
    System.arraycopy(sealed, 0, whole, header.length, sealed.length);
    return whole;
  }
}
