package ironsieve.traffic.make;

import ironsieve.region.Address;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import java.util.List;
import java.util.Optional;
import java.util.Random;

/** The messages of protocols, with what a unit is to show. */
final class Messages {

  private Messages() {}

  static Optional<String> first(Unit unit, Field field) {
    return unit.facts().filter(fact -> fact.field() == field).map(Fact::text).findFirst();
  }

  private static List<String> all(Unit unit, Field field) {
    return unit.facts().filter(fact -> fact.field() == field).map(Fact::text).toList();
  }

  /** The name that is asked of DNS, if anything is. */
  static Optional<String> dnsName(Unit unit) {
    return first(unit, Field.DNS_NAME)
        .or(
            () ->
                all(unit, Field.PROTOCOL).contains("DNS")
                    ? Optional.of("www.example")
                    : Optional.empty());
  }

  static boolean isQuic(Unit unit) {
    return all(unit, Field.PROTOCOL).contains("QUIC");
  }

  static boolean isTls(Unit unit) {
    return all(unit, Field.PROTOCOL).contains("TLS")
        || first(unit, Field.SERVER_NAME).isPresent()
        || first(unit, Field.ALPN).isPresent();
  }

  static boolean isHttp(Unit unit) {
    return all(unit, Field.PROTOCOL).contains("HTTP")
        || unit.request().stream().anyMatch(fact -> fact.field() != Field.DNS_NAME);
  }

  static byte[] random(Random random, int length) {
    byte[] bytes = new byte[length];
    random.nextBytes(bytes);
    return bytes;
  }

  static byte[] bytes(Unit unit, Field field, Random random) {
    return unit.facts()
        .filter(fact -> fact.field() == field)
        .map(Fact::value)
        .findFirst()
        .orElseGet(() -> new byte[] {0x15, 0x77, 0x42, 0x01, (byte) random.nextInt(256)});
  }

  static byte[] clientHello(Unit unit, Random random, boolean isQuic) {
    return clientHello(unit, random(random, 32), isQuic);
  }

  static byte[] clientHello(Unit unit, byte[] clientRandom, boolean isQuic) {
    Bytes extensions = new Bytes();
    first(unit, Field.SERVER_NAME)
        .ifPresent(
            name ->
                extension(
                    extensions,
                    0,
                    new Bytes().counted(2, new Bytes().u8(0).counted(2, new Bytes().text(name)))));
    List<String> protocols = all(unit, Field.ALPN);
    Bytes list = new Bytes();
    for (String protocol : protocols.isEmpty() ? List.of(isQuic ? "h3" : "http/1.1") : protocols) {
      list.counted(1, new Bytes().text(protocol));
    }
    extension(extensions, 16, new Bytes().counted(2, list));
    extension(extensions, 43, new Bytes().counted(1, new Bytes().u16(0x0304)));
    extension(extensions, 10, new Bytes().counted(2, new Bytes().u16(0x001D)));
    extension(extensions, 13, new Bytes().counted(2, new Bytes().u16(0x0804)));
    extension(
        extensions,
        51,
        new Bytes().counted(2, new Bytes().u16(0x001D).counted(2, new Bytes().raw(clientRandom))));
    Bytes body =
        new Bytes()
            .u16(0x0303)
            .raw(clientRandom)
            .u8(0)
            .counted(2, new Bytes().u16(0x1301))
            .counted(1, new Bytes().u8(0))
            .counted(2, extensions);
    return new Bytes().u8(1).counted(3, body).done();
  }

  static void extension(Bytes to, int type, Bytes value) {
    to.u16(type).counted(2, value);
  }

  static byte[] request(Unit unit) {
    String path = first(unit, Field.PATH).orElse("/");
    String method = first(unit, Field.METHOD).orElse("GET");
    StringBuilder text = new StringBuilder(method + " " + path + " HTTP/1.1\r\n");
    text.append("Host: ")
        .append(
            first(unit, Field.HOST).or(() -> first(unit, Field.SERVER_NAME)).orElse("host.example"))
        .append("\r\n");
    unit.request().stream()
        .filter(fact -> fact.field() == Field.HEADER && !fact.header().equals("host"))
        .forEach(
            fact -> text.append(fact.header()).append(": ").append(fact.text()).append("\r\n"));
    boolean hasBody = method.equals("POST") || method.equals("PUT");
    if (hasBody) {
      text.append("Content-Length: 5\r\n");
    }
    return new Bytes().text(text + "\r\n" + (hasBody ? "hello" : "")).done();
  }

  static byte[] response(Unit unit, int size, Random random) {
    String status = first(unit, Field.STATUS).orElse("200");
    String type = first(unit, Field.CONTENT_TYPE).orElse("text/html");
    return new Bytes()
        .text(
            "HTTP/1.1 "
                + status
                + " OK\r\nContent-Type: "
                + type
                + "\r\nContent-Length: "
                + size
                + "\r\n\r\n")
        .raw(random(random, size))
        .done();
  }

  static byte[] question(String name, int id) {
    return named(new Bytes().u16(id).u16(0x0100).u16(1).u16(0).u16(0).u16(0), name)
        .u16(1)
        .u16(1)
        .done();
  }

  static byte[] answer(String name, int id, Address address) {
    return named(new Bytes().u16(id).u16(0x8180).u16(1).u16(1).u16(0).u16(0), name)
        .u16(1)
        .u16(1)
        .u16(0xC00C)
        .u16(1)
        .u16(1)
        .u32(300)
        .u16(4)
        .u32(address.low())
        .done();
  }

  private static Bytes named(Bytes to, String name) {
    for (String label : name.split("\\.")) {
      to.counted(1, new Bytes().text(label));
    }
    return to.u8(0);
  }
}
