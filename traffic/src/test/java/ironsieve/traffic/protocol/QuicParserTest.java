package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.util.Arrays;
import java.util.HexFormat;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The first packets of QUIC, against the examples of its documents and in every order. */
class QuicParserTest {

  private static final byte[] ID = HexFormat.of().parseHex("8394c8f03e515708");

  private static String hex(byte[] bytes) {
    return HexFormat.of().formatHex(bytes);
  }

  /** RFC 9001, A.1. */
  @Test
  void keysOfVersionOneAreThoseOfItsDocument() {
    QuicKeys.Material keys = SealedPackets.clientKeys(QuicKeys.VERSION_1, ID);
    assertThat(hex(keys.key())).isEqualTo("1f369613dd76d5467730efcbe3b1a22d");
    assertThat(hex(keys.iv())).isEqualTo("fa044b2f42a3fd3b46fb255c");
    assertThat(hex(keys.hiding())).isEqualTo("9f50449e04a0e810283a1e9933adedd2");
  }

  /** RFC 9369, A.1. */
  @Test
  void keysOfVersionTwoAreThoseOfItsDocument() {
    QuicKeys.Material keys = SealedPackets.clientKeys(QuicKeys.VERSION_2, ID);
    assertThat(hex(keys.key())).isEqualTo("8b1a0bc121284290a29e0971b5cd045d");
    assertThat(hex(keys.iv())).isEqualTo("91f73e2351d8fa91660e909f");
    assertThat(hex(keys.hiding())).isEqualTo("45b95e15235d6f45a6b19cbcb0294ba9");
  }

  /** RFC 9001, A.5; and the same with a bit turned round. */
  @Test
  void aPacketWithAShortHeaderIsOpenedAsInItsDocument() {
    byte[] secret =
        HexFormat.of().parseHex("9ac312a7f877468ebe69422748ad00a15443f18203a07d6060f688f30f21632b");
    QuicKeys keys =
        QuicKeys.ofSecret(QuicKeys.VERSION_1, RecordCipher.Suite.of(0x1303).orElseThrow(), secret);
    byte[] packet = HexFormat.of().parseHex("4cfe4189655e5cd55c41f69080575d7999c25a5bfb");
    QuicKeys.Opened opened = keys.open(packet, 0, 1, packet.length, 654_360_560L).orElseThrow();
    assertThat(opened.number()).isEqualTo(654_360_564L);
    assertThat(hex(opened.frames())).isEqualTo("01");
    packet[20] ^= 1;
    assertThat(keys.open(packet, 0, 1, packet.length, 654_360_560L)).isEmpty();
  }

  /** RFC 9369, A.5. */
  @Test
  void aPacketOfVersionTwoIsOpenedAsInItsDocument() {
    QuicKeys keys =
        QuicKeys.ofSecret(
            QuicKeys.VERSION_2,
            RecordCipher.Suite.of(0x1303).orElseThrow(),
            HexFormat.of()
                .parseHex("9ac312a7f877468ebe69422748ad00a15443f18203a07d6060f688f30f21632b"));
    byte[] packet = HexFormat.of().parseHex("5558b1c60ae7b6b932bc27d786f4bc2bb20f2162ba");
    QuicKeys.Opened opened = keys.open(packet, 0, 1, packet.length, 654_360_560L).orElseThrow();
    assertThat(opened.number()).isEqualTo(654_360_564L);
    assertThat(hex(opened.frames())).isEqualTo("01");
  }

  /** RFC 9000, A.3; and the same as the nearest number with these last bytes, looked for. */
  @Test
  void aNumberIsTheNearestToTheOneThatIsExpected() {
    assertThat(QuicKeys.whole(0x9b32, 2, 0xa82f30eaL)).isEqualTo(0xa82f9b32L);
    for (long largest = -1; largest < 1_200; largest++) {
      for (int cut = 0; cut < 256; cut++) {
        long expected = largest + 1;
        long nearest = cut;
        for (long n = cut; n < 2_000; n += 256) {
          // Of two that are as near the larger one is meant.
          if (Math.abs(n - expected) <= Math.abs(nearest - expected)) {
            nearest = n;
          }
        }
        assertThat(QuicKeys.whole(cut, 1, largest))
            .as(cut + " after " + largest)
            .isEqualTo(nearest);
      }
    }
  }

  private static Conversation conversation() {
    return new Conversation(
        new Service(Service.UDP, 443), Address.parse("203.0.113.10"), new KeyLog());
  }

  @ParameterizedTest
  @ValueSource(ints = {QuicKeys.VERSION_1, QuicKeys.VERSION_2})
  void aHelloOverSeveralPacketsInAnyOrderIsRead(int version) throws Exception {
    byte[] hello = SealedPackets.hello("films.vuelo.example");
    int half = hello.length / 2;
    byte[] first = SealedPackets.initial(version, ID, 0, 0, Arrays.copyOf(hello, half));
    byte[] second =
        SealedPackets.initial(version, ID, 1, half, Arrays.copyOfRange(hello, half, hello.length));
    Conversation turned = conversation();
    turned.onBytes(true, second, 0, second.length);
    turned.onBytes(true, first, 0, first.length);
    assertThat(turned.facts().first(Field.SERVER_NAME)).contains("films.vuelo.example");
    // Both in one datagram, and one of them twice.
    byte[] both = Arrays.copyOf(first, first.length + second.length);
    System.arraycopy(second, 0, both, first.length, second.length);
    Conversation together = conversation();
    together.onBytes(true, first, 0, first.length);
    together.onBytes(true, both, 0, both.length);
    assertThat(together.facts().first(Field.SERVER_NAME)).contains("films.vuelo.example");
    assertThat(together.facts().layers()).containsExactly("QUIC");
  }

  @ParameterizedTest
  @ValueSource(ints = {QuicKeys.VERSION_1, QuicKeys.VERSION_2})
  void onceTheServerHasAnsweredTheClientNamesAnotherIdAndKeepsItsKeys(int version)
      throws Exception {
    byte[] hello = SealedPackets.hello("films.vuelo.example");
    byte[] first = SealedPackets.initial(version, ID, 0, 0, Arrays.copyOf(hello, 20));
    byte[] other = {1, 2, 3, 4, 5, 6, 7, 8};
    byte[] second =
        SealedPackets.initial(version, other, 1, 20, Arrays.copyOfRange(hello, 20, hello.length));
    Conversation conversation = conversation();
    conversation.onBytes(true, first, 0, first.length);
    conversation.onBytes(true, second, 0, second.length);
    assertThat(conversation.facts().first(Field.SERVER_NAME)).contains("films.vuelo.example");
  }
}
