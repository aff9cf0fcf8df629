package ironsieve.traffic.protocol;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What conversations of each protocol show, in the corners that captures of a day seldom have. */
class ConversationTest {

  private final Conversation tcp = on(new Service(Service.TCP, 8080));

  private static Conversation on(Service service) {
    return new Conversation(service, Address.parse("203.0.113.10"), new KeyLog());
  }

  private static void onBytes(Conversation to, boolean byClient, String text) {
    byte[] bytes = text.getBytes(StandardCharsets.ISO_8859_1);
    to.onBytes(byClient, bytes, 0, bytes.length);
  }

  private static List<String> requests(ConnectionFacts shown) {
    List<String> all = new ArrayList<>();
    for (ConnectionFacts.Request request : shown.requests()) {
      all.add(
          request.first(Field.METHOD).orElse("")
              + " "
              + request.first(Field.HOST).orElse("")
              + " "
              + request.first(Field.PATH).orElse("")
              + " "
              + request.first(Field.STATUS).orElse("")
              + " "
              + request.times());
    }
    return all;
  }

  @Test
  void bodiesArePassedOverHoweverTheirEndIsTold() {
    onBytes(
        tcp,
        true,
        "POST /a HTTP/1.1\r\nHost: A.example:8080\r\nTransfer-Encoding: chunked\r\n\r\n");
    onBytes(tcp, true, "5\r\nGET /\r\n3;x=y\r\nabc\r\n0\r\nTrailer: x\r\n\r\n");
    onBytes(tcp, true, "PUT /b HTTP/1.1\r\nHost: a.example\r\nContent-Length: 7\r\n\r\nGET /x ");
    onBytes(
        tcp,
        true,
        "HEAD /c HTTP/1.1\r\nHost: a.example\r\n\r\nGET /d HTTP/1.1\r\nHost: a.example\r\n\r\n");
    onBytes(
        tcp,
        false,
        "HTTP/1.1 100 Continue\r\n\r\nHTTP/1.1 201 Made\r\nContent-Length: 2\r\n\r\nok");
    onBytes(tcp, false, "HTTP/1.1 204 Nothing\r\n\r\n");
    onBytes(tcp, false, "HTTP/1.1 200 OK\r\nContent-Length: 5000\r\n\r\n");
    onBytes(
        tcp,
        false,
        "HTTP/1.1 404 None\r\nContent-Type: Text/HTML\r\n\r\nuntil it closes HTTP/1.1 500 x");
    ConnectionFacts shown = tcp.facts();
    assertThat(requests(shown))
        .containsExactly(
            "POST a.example /a 201 1",
            "PUT a.example /b 204 1",
            "HEAD a.example /c 200 1",
            "GET a.example /d 404 1");
    assertThat(shown.requests().get(3).first(Field.CONTENT_TYPE)).contains("text/html");
    assertThat(shown.isBroken()).isFalse();
  }

  @Test
  void requestsThatShowTheSameAreOneWithItsCount() {
    for (int i = 0; i < 500; i++) {
      onBytes(tcp, true, "GET /same HTTP/1.1\r\nHost: a.example\r\n\r\n");
      onBytes(tcp, false, "HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n");
    }
    for (int i = 0; i < 200; i++) {
      onBytes(tcp, true, "GET /" + i + " HTTP/1.1\r\nHost: a.example\r\n\r\n");
    }
    ConnectionFacts shown = tcp.facts();
    assertThat(shown.requests()).hasSize(ConnectionFacts.MOST_REQUESTS);
    assertThat(shown.requests().get(0).times()).isEqualTo(500);
    assertThat(shown.requestsLeftOut()).isEqualTo(200 - (ConnectionFacts.MOST_REQUESTS - 1));
  }

  @Test
  void whatIsTunnelledThroughAProxyIsReadInside() {
    onBytes(
        tcp,
        true,
        "CONNECT films.vuelo.example:443 HTTP/1.1\r\nHost: films.vuelo.example:443\r\n\r\n");
    onBytes(tcp, false, "HTTP/1.1 200 Yes\r\n\r\n");
    onBytes(tcp, true, "GET /inside HTTP/1.1\r\nHost: inner.example\r\n\r\n");
    ConnectionFacts shown = tcp.facts();
    assertThat(requests(shown))
        .containsExactly("CONNECT films.vuelo.example  200 1", "GET inner.example /inside  1");
  }

  @Test
  void afterAnUpgradeAnotherProtocolGoesOn() {
    onBytes(
        tcp,
        true,
        "GET /chat HTTP/1.1\r\nHost: a.example\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\r\n");
    onBytes(
        tcp, false, "HTTP/1.1 101 Switching\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\r\n");
    onBytes(tcp, true, "\u0081\u0085GET / HTTP/1.1\r\n\r\n");
    ConnectionFacts shown = tcp.facts();
    assertThat(shown.layers()).containsExactly("HTTP", "WebSocket");
    assertThat(shown.requests()).hasSize(1);
  }

  @Test
  void mailThatAsksForEncryptionIsEncryptedFromThereOn() {
    Conversation mail = on(new Service(Service.TCP, 587));
    onBytes(mail, false, "220 mail.example ESMTP\r\n");
    onBytes(mail, true, "EHLO client.example\r\n");
    onBytes(mail, false, "250-mail.example\r\n250 STARTTLS\r\n");
    onBytes(mail, true, "STARTTLS\r\n");
    onBytes(mail, false, "220 go on\r\n");
    // A hello that names mail.example, in two records.
    byte[] hello = hello("mail.example");
    byte[] first = record(java.util.Arrays.copyOf(hello, 30));
    byte[] second = record(java.util.Arrays.copyOfRange(hello, 30, hello.length));
    mail.onBytes(true, first, 0, first.length);
    mail.onBytes(true, second, 0, second.length);
    ConnectionFacts shown = mail.facts();
    assertThat(shown.layers()).containsExactly("TLS");
    assertThat(shown.first(Field.SERVER_NAME)).contains("mail.example");
    assertThat(shown.facts())
        .anyMatch(
            fact ->
                fact.field() == Field.CLIENT_BYTES
                    && ConnectionFacts.latin(fact.value(), 0, 4).equals("EHLO"));
  }

  private static byte[] record(byte[] body) {
    byte[] record = new byte[5 + body.length];
    record[0] = 22;
    record[1] = 3;
    record[2] = 1;
    record[4] = (byte) body.length;
    System.arraycopy(body, 0, record, 5, body.length);
    return record;
  }

  private static byte[] hello(String name) {
    String host = HexFormat.of().formatHex(name.getBytes(StandardCharsets.US_ASCII));
    int length = name.length();
    String extension = String.format("0000%04x%04x00%04x", length + 5, length + 3, length) + host;
    String body =
        "0303"
            + "00".repeat(32)
            + "00"
            + "00021301"
            + "0100"
            + String.format("%04x", extension.length() / 2)
            + extension;
    return HexFormat.of().parseHex("01" + String.format("%06x", body.length() / 2) + body);
  }

  @Test
  void namesThatPointAtThemselvesAreNone() {
    Conversation dns = on(new Service(Service.UDP, 53));
    byte[] loop = HexFormat.of().parseHex("000101000001000000000000c00c00010001");
    dns.onBytes(true, loop, 0, loop.length);
    ConnectionFacts shown = dns.facts();
    assertThat(shown.layers()).containsExactly("DNS");
    assertThat(shown.requests()).isEmpty();
  }

  @Test
  void anAnswerNamesItsAddressesByWhatWasAskedFor() {
    Conversation dns = on(new Service(Service.UDP, 53));
    // www.a.example is an alias of a.example, which has 203.0.113.9 and 2001:db8::1.
    byte[] answer =
        HexFormat.of()
            .parseHex(
                "000181800001000300000000"
                    + "0377777701610765"
                    + "78616d706c650000010001"
                    + "c00c00050001000000010002c010"
                    + "c0100001000100000001000"
                    + "4cb007109"
                    + "c010001c000100000001001020010db8000000000000000000000001");
    dns.onBytes(false, answer, 0, answer.length);
    List<String> named = new ArrayList<>();
    dns.named((address, name) -> named.add(address + " " + name));
    assertThat(named).containsExactly("203.0.113.9 www.a.example", "2001:db8::1 www.a.example");
  }

  @Test
  void whereBytesAreMissingWhatCameBeforeIsKept() {
    onBytes(tcp, true, "GET /first HTTP/1.1\r\nHost: a.example\r\n\r\nGET /sec");
    tcp.lost(true);
    onBytes(tcp, true, "ond HTTP/1.1\r\nHost: a.example\r\n\r\n");
    ConnectionFacts shown = tcp.facts();
    assertThat(requests(shown)).containsExactly("GET a.example /first  1");
    assertThat(shown.isBroken()).isTrue();
  }

  @Test
  void anEncryptedNameIsSaidToBeThere() {
    Conversation tls = on(new Service(Service.TCP, 443));
    String outer = "fe0d0004" + "00010001";
    String body = "0303" + "00".repeat(32) + "00" + "00021301" + "0100" + "0008" + outer;
    byte[] hello = HexFormat.of().parseHex("01" + String.format("%06x", body.length() / 2) + body);
    byte[] bytes = record(hello);
    tls.onBytes(true, bytes, 0, bytes.length);
    assertThat(tls.facts().mayHideName()).isTrue();
    assertThat(tls.facts().hostName()).isEmpty();
  }

  @Test
  void aServerThatSpeaksAnOlderVersionHasTakenNoHiddenName() {
    String offer = "fe0d0004" + "00010001";
    String client = "0303" + "00".repeat(32) + "00" + "00021301" + "0100" + "0008" + offer;
    String old = "0303" + "11".repeat(32) + "00" + "c02f" + "00";
    String recent = "0303" + "11".repeat(32) + "00" + "1301" + "00" + "0006" + "002b00020304";
    assertThat(afterHellos(client, old).mayHideName()).isFalse();
    assertThat(afterHellos(client, recent).mayHideName()).isTrue();
    assertThat(afterHellos(client, old.substring(0, 60)).mayHideName()).isTrue();
  }

  private static ConnectionFacts afterHellos(String client, String server) {
    Conversation tls = on(new Service(Service.TCP, 443));
    byte[] asked = record(message("01", client));
    byte[] answered = record(message("02", server));
    tls.onBytes(true, asked, 0, asked.length);
    tls.onBytes(false, answered, 0, answered.length);
    return tls.facts();
  }

  private static byte[] message(String type, String body) {
    return HexFormat.of().parseHex(type + String.format("%06x", body.length() / 2) + body);
  }

  @Test
  void namesThatAreAskedOfEverybodyNearAreNotAskedOfAServer() {
    byte[] question =
        HexFormat.of().parseHex("000001000001000000000000" + "0161056c6f63616c0000010001");
    Map.of(53, "DNS", 5353, "mDNS", 5355, "LLMNR")
        .forEach(
            (port, name) -> {
              Conversation asking = on(new Service(Service.UDP, port));
              asking.onBytes(true, question, 0, question.length);
              assertThat(asking.facts().layers()).containsExactly(name);
            });
  }

  @Test
  void keysOfAKindThatIsNotUsedAreKeysAllTheSame() {
    KeyLog log = new KeyLog();
    log.add(
        "RSA "
            + "0f".repeat(8)
            + " "
            + "03".repeat(48)
            + "\nEXPORTER_SECRET "
            + "aa".repeat(32)
            + " "
            + "bb".repeat(32)
            + "\nCLIENT_RANDOM "
            + "aa".repeat(32)
            + " "
            + "bb".repeat(48)
            + "\nRSA 12 34\nhello\n");
    assertThat(log.unused()).isEqualTo(2);
    assertThat(log.unreadable()).isEqualTo(2);
    assertThat(log.size()).isEqualTo(1);
  }
}
