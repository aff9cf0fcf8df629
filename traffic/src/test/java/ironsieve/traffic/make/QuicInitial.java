package ironsieve.traffic.make;

import java.security.GeneralSecurityException;
import java.util.HexFormat;
import java.util.Random;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/** A client's first packet of QUIC version 1 (RFC 9000, 17.2.2; RFC 9001, 5). */
final class QuicInitial {

  private static final byte[] SALT =
      HexFormat.of().parseHex("38762cf7f55934b34d179ae6a4c80cadccbb7f0a");
  private static final int SIZE = 1_200;

  private final Random random;

  QuicInitial(Random random) {
    this.random = random;
  }

  byte[] packet(byte[] hello) {
    byte[] destination = Messages.random(random, 8);
    byte[] secret = Labels.expand(Labels.mac(SALT, destination), "client in", 32);
    byte[] key = Labels.expand(secret, "quic key", 16);
    byte[] iv = Labels.expand(secret, "quic iv", 12);
    byte[] mask = Labels.expand(secret, "quic hp", 16);
    Bytes crypto = new Bytes().u8(6).u8(0).u16(0x4000 | hello.length).raw(hello);
    int headerLength = 1 + 4 + 1 + 8 + 1 + 1 + 2 + 2;
    while (headerLength + crypto.size() + 16 < SIZE) {
      crypto.u8(0);
    }
    byte[] plain = crypto.done();
    byte[] header =
        new Bytes()
            .u8(0xC1)
            .u32(1)
            .counted(1, new Bytes().raw(destination))
            .u8(0)
            .u8(0)
            .u16(0x4000 | plain.length + 16 + 2)
            .u16(0)
            .done();
    try {
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(
          Cipher.ENCRYPT_MODE, new SecretKeySpec(key, "AES"), new GCMParameterSpec(128, iv));
      cipher.updateAAD(header);
      byte[] encrypted = cipher.doFinal(plain);
      Cipher hiding = Cipher.getInstance("AES/ECB/NoPadding");
      hiding.init(Cipher.ENCRYPT_MODE, new SecretKeySpec(mask, "AES"));
      byte[] hidden = hiding.doFinal(encrypted, 2, 16);
      header[0] ^= (byte) (hidden[0] & 0x0F);
      header[header.length - 2] ^= hidden[1];
      header[header.length - 1] ^= hidden[2];
      return new Bytes().raw(header).raw(encrypted).done();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has AES", e);
    }
  }
}
