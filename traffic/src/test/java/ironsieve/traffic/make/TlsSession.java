package ironsieve.traffic.make;

import java.security.GeneralSecurityException;
import java.util.HexFormat;
import java.util.Random;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * A TLS 1.3 session with made-up secrets: nobody has agreed on them, and whoever has them opens the
 * records all the same.
 */
final class TlsSession {

  private static final int HANDSHAKE = 22;
  private static final int CHANGE = 20;
  private static final int DATA = 23;

  private final byte[] clientRandom;
  private final byte[] serverRandom;
  private final Keys clientHandshake;
  private final Keys serverHandshake;
  private final Keys clientData;
  private final Keys serverData;

  /** The keys of a direction, with how many records were written with them. */
  private static final class Keys {
    private final byte[] secret;
    private final byte[] key;
    private final byte[] iv;
    private long sequence;

    private Keys(byte[] secret) {
      this.secret = secret;
      key = Labels.expand(secret, "key", 16);
      iv = Labels.expand(secret, "iv", 12);
    }
  }

  TlsSession(Random random) {
    clientRandom = Messages.random(random, 32);
    serverRandom = Messages.random(random, 32);
    clientHandshake = new Keys(Messages.random(random, 32));
    serverHandshake = new Keys(Messages.random(random, 32));
    clientData = new Keys(Messages.random(random, 32));
    serverData = new Keys(Messages.random(random, 32));
  }

  byte[] clientRandom() {
    return clientRandom;
  }

  /** The session's secrets as a key log. */
  String keyLog() {
    HexFormat hex = HexFormat.of();
    String random = " " + hex.formatHex(clientRandom) + " ";
    return "CLIENT_HANDSHAKE_TRAFFIC_SECRET"
        + random
        + hex.formatHex(clientHandshake.secret)
        + "\nSERVER_HANDSHAKE_TRAFFIC_SECRET"
        + random
        + hex.formatHex(serverHandshake.secret)
        + "\nCLIENT_TRAFFIC_SECRET_0"
        + random
        + hex.formatHex(clientData.secret)
        + "\nSERVER_TRAFFIC_SECRET_0"
        + random
        + hex.formatHex(serverData.secret)
        + "\n";
  }

  byte[] serverFlight() {
    Bytes extensions = new Bytes();
    Messages.extension(extensions, 43, new Bytes().u16(0x0304));
    Messages.extension(
        extensions, 51, new Bytes().u16(0x001D).counted(2, new Bytes().raw(serverRandom)));
    Bytes body =
        new Bytes().u16(0x0303).raw(serverRandom).u8(0).u16(0x1301).u8(0).counted(2, extensions);
    byte[] hello = new Bytes().u8(2).counted(3, body).done();
    byte[] rest =
        new Bytes()
            .u8(8)
            .counted(3, new Bytes().u16(0))
            .u8(20)
            .counted(3, new Bytes().raw(new byte[32]))
            .done();
    return new Bytes()
        .raw(record(HANDSHAKE, 0x0303, hello))
        .raw(record(CHANGE, 0x0303, new byte[] {1}))
        .raw(sealed(serverHandshake, HANDSHAKE, rest))
        .done();
  }

  byte[] clientFlight() {
    byte[] finished = new Bytes().u8(20).counted(3, new Bytes().raw(new byte[32])).done();
    return new Bytes()
        .raw(record(CHANGE, 0x0303, new byte[] {1}))
        .raw(sealed(clientHandshake, HANDSHAKE, finished))
        .done();
  }

  /** What one side says, encrypted, in as many records as it takes. */
  byte[] data(boolean byClient, byte[] plain) {
    Bytes all = new Bytes();
    for (int at = 0; at < plain.length; at += 16_000) {
      all.raw(
          sealed(
              byClient ? clientData : serverData,
              DATA,
              java.util.Arrays.copyOfRange(plain, at, Math.min(plain.length, at + 16_000))));
    }
    return all.done();
  }

  private static byte[] sealed(Keys keys, int type, byte[] plain) {
    byte[] nonce = keys.iv.clone();
    for (int i = 0; i < 8; i++) {
      nonce[11 - i] ^= (byte) (keys.sequence >>> 8 * i);
    }
    keys.sequence++;
    byte[] header = new Bytes().u8(DATA).u16(0x0303).u16(plain.length + 17).done();
    try {
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(
          Cipher.ENCRYPT_MODE,
          new SecretKeySpec(keys.key, "AES"),
          new GCMParameterSpec(128, nonce));
      cipher.updateAAD(header);
      byte[] encrypted = cipher.doFinal(new Bytes().raw(plain).u8(type).done());
      return new Bytes().raw(header).raw(encrypted).done();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has AES", e);
    }
  }

  static byte[] record(int type, int version, byte[] body) {
    return new Bytes().u8(type).u16(version).counted(2, new Bytes().raw(body)).done();
  }
}
