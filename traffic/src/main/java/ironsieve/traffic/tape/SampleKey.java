package ironsieve.traffic.tape;

import ironsieve.model.Service;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Unit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What connections have in common that show the same to whoever looks for a signature: names,
 * method, the first two parts of a path, and of what is otherwise opaque its first bytes. Numbers
 * and random bytes would make each a sample of its own.
 */
record SampleKey(Service service, List<String> parts) {

  private static final int FIRST_BYTES = 8;

  static SampleKey of(Unit unit) {
    List<String> parts = new ArrayList<>();
    boolean isNamed = unit.facts().anyMatch(fact -> fact.field().kind() == Field.Kind.NAME);
    unit.facts().forEach(fact -> part(fact, isNamed).ifPresent(parts::add));
    return new SampleKey(unit.shown().service(), parts);
  }

  private static Optional<String> part(Fact fact, boolean isNamed) {
    return switch (fact.field()) {
      case PATH -> Optional.of("path " + firstParts(fact.text()));
      case HEADER ->
          fact.header().equals("user-agent") || fact.header().equals("content-type")
              ? Optional.of(fact.toString())
              : Optional.empty();
      case CLIENT_BYTES, SERVER_BYTES ->
          isNamed
              ? Optional.empty()
              : Optional.of(
                  fact.field().word() + java.util.HexFormat.of().formatHex(first(fact.value())));
      default -> Optional.of(fact.toString());
    };
  }

  private static byte[] first(byte[] bytes) {
    return java.util.Arrays.copyOf(bytes, Math.min(FIRST_BYTES, bytes.length));
  }

  private static String firstParts(String path) {
    String bare = path.split("[?#]", 2)[0];
    int second = bare.indexOf('/', 1);
    int third = second < 0 ? -1 : bare.indexOf('/', second + 1);
    return third < 0 ? bare : bare.substring(0, third);
  }
}
