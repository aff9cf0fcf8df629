package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The first packets of QUIC, against the examples of its documents and in every order. */
class QuicTalkTest {

  private static final byte[] ID = HexFormat.of().parseHex("8394c8f03e515708");

  private static String hex(byte[] bytes) {
    return HexFormat.of().formatHex(bytes);
  }

  /** RFC 9001, A.1. */
  @Test
  void keysOfVersionOneAreThoseOfItsDocument() {
    QuicTalk.Keys keys = QuicTalk.clientKeys(QuicTalk.VERSION_1, ID);
    assertThat(hex(keys.key())).isEqualTo("1f369613dd76d5467730efcbe3b1a22d");
    assertThat(hex(keys.iv())).isEqualTo("fa044b2f42a3fd3b46fb255c");
    assertThat(hex(keys.header())).isEqualTo("9f50449e04a0e810283a1e9933adedd2");
  }

  /** RFC 9369, A.1. */
  @Test
  void keysOfVersionTwoAreThoseOfItsDocument() {
    QuicTalk.Keys keys = QuicTalk.clientKeys(QuicTalk.VERSION_2, ID);
    assertThat(hex(keys.key())).isEqualTo("8b1a0bc121284290a29e0971b5cd045d");
    assertThat(hex(keys.iv())).isEqualTo("91f73e2351d8fa91660e909f");
    assertThat(hex(keys.header())).isEqualTo("45b95e15235d6f45a6b19cbcb0294ba9");
  }

  private static byte[] hello(String name) throws IOException {
    ByteArrayOutputStream names = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(names);
    byte[] host = name.getBytes(StandardCharsets.US_ASCII);
    out.writeShort(0);
    out.writeShort(host.length + 5);
    out.writeShort(host.length + 3);
    out.writeByte(0);
    out.writeShort(host.length);
    out.write(host);
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    out = new DataOutputStream(body);
    out.writeShort(0x0303);
    out.write(new byte[32]);
    out.writeByte(0);
    out.writeShort(2);
    out.writeShort(0x1301);
    out.writeShort(0x0100);
    out.writeShort(names.size());
    out.write(names.toByteArray());
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    out = new DataOutputStream(all);
    out.writeByte(1);
    out.writeByte(0);
    out.writeShort(body.size());
    out.write(body.toByteArray());
    return all.toByteArray();
  }

  /** A packet with some of the hello, as RFC 9001 seals it. */
  private static byte[] packet(int version, byte[] id, int number, int offset, byte[] some)
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
    out.writeByte(version == QuicTalk.VERSION_2 ? 0xD1 : 0xC1);
    out.writeInt(version);
    out.writeByte(id.length);
    out.write(id);
    out.writeByte(0);
    out.writeByte(0);
    out.writeShort(0x4000 | plain.length + 18);
    out.writeShort(number);
    byte[] header = head.toByteArray();
    QuicTalk.Keys keys = QuicTalk.clientKeys(version, ID);
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
    mask.init(Cipher.ENCRYPT_MODE, new SecretKeySpec(keys.header(), "AES"));
    byte[] hidden = mask.doFinal(sealed, 2, 16);
    header[0] ^= (byte) (hidden[0] & 15);
    header[header.length - 2] ^= hidden[1];
    header[header.length - 1] ^= hidden[2];
    byte[] whole = Arrays.copyOf(header, header.length + sealed.length);
    System.arraycopy(sealed, 0, whole, header.length, sealed.length);
    return whole;
  }

  private static Conversation conversation() {
    return new Conversation(
        new Service(Service.UDP, 443), Address.parse("203.0.113.10"), new KeyLog());
  }

  @ParameterizedTest
  @ValueSource(ints = {QuicTalk.VERSION_1, QuicTalk.VERSION_2})
  void aHelloOverSeveralPacketsInAnyOrderIsRead(int version) throws Exception {
    byte[] hello = hello("films.vuelo.example");
    int half = hello.length / 2;
    byte[] first = packet(version, ID, 0, 0, Arrays.copyOf(hello, half));
    byte[] second = packet(version, ID, 1, half, Arrays.copyOfRange(hello, half, hello.length));
    Conversation turned = conversation();
    turned.said(true, second, 0, second.length);
    turned.said(true, first, 0, first.length);
    assertThat(turned.shown().first(Field.SERVER_NAME)).contains("films.vuelo.example");
    // Both in one datagram, and one of them twice.
    byte[] both = Arrays.copyOf(first, first.length + second.length);
    System.arraycopy(second, 0, both, first.length, second.length);
    Conversation together = conversation();
    together.said(true, first, 0, first.length);
    together.said(true, both, 0, both.length);
    assertThat(together.shown().first(Field.SERVER_NAME)).contains("films.vuelo.example");
    assertThat(together.shown().layers()).containsExactly("QUIC");
  }

  @ParameterizedTest
  @ValueSource(ints = {QuicTalk.VERSION_1, QuicTalk.VERSION_2})
  void onceTheServerHasAnsweredTheClientNamesAnotherIdAndKeepsItsKeys(int version)
      throws Exception {
    byte[] hello = hello("films.vuelo.example");
    byte[] first = packet(version, ID, 0, 0, Arrays.copyOf(hello, 20));
    byte[] other = {1, 2, 3, 4, 5, 6, 7, 8};
    byte[] second = packet(version, other, 1, 20, Arrays.copyOfRange(hello, 20, hello.length));
    Conversation conversation = conversation();
    conversation.said(true, first, 0, first.length);
    conversation.said(true, second, 0, second.length);
    assertThat(conversation.shown().first(Field.SERVER_NAME)).contains("films.vuelo.example");
  }
}
