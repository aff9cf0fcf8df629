package ironsieve.text;

import ironsieve.model.Connection;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Source;
import ironsieve.model.Environment;
import ironsieve.model.Parts;
import ironsieve.model.Value;
import java.time.LocalDateTime;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Probes as one sentence:
 *
 * <pre>
 * from [ZONE] [ADDRESS] [as LOGIN] [on DEVICE[, POSTURE]] to [ZONE] [ADDRESS] [HOST NAME]
 *   [using [SERVICE] [APPLICATION[/FEATURE] [over CARRIER]]] [at [DAY | DATE] HH:MM]
 * </pre>
 *
 * Parts may stand in any order. What is not said is filled in from what is: the zone from the
 * address, an address from the host name or the zone, port and carrier from the application; the
 * rest is unknown, and the time is now.
 */
public final class ProbeText {

  /** A detail of a probe that can be filled in. */
  public enum Detail {
    FROM_ZONE,
    FROM_ADDRESS,
    PERSON,
    DEVICE,
    TO_ZONE,
    TO_ADDRESS,
    SITE,
    SERVICE,
    APPLICATION,
    TIME
  }

  /**
   * A probe as read.
   *
   * @param connection the whole connection
   * @param filledIn the details that were not said
   */
  public record Probe(Connection connection, Set<Detail> filledIn) {}

  /**
   * One way to go on.
   *
   * @param text what to put in
   * @param kind what it is: a word of the sentence, a zone, a person …
   * @param detail a few words about it; may be empty
   */
  public record Completion(String text, String kind, String detail) {}

  /**
   * Ways to go on at the end of a text.
   *
   * @param from where the text to be replaced begins, in characters
   * @param choices the best first; at most 12
   */
  public record Completions(int from, List<Completion> choices) {}

  private final NameIndex names;

  /** Probes in an environment: its zones, people, devices, applications and host names. */
  public ProbeText(Environment environment) {
    names = new NameIndex(Parts.of(List.of()), environment);
  }

  /**
   * Reads a probe.
   *
   * @param now the time to fill in
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Probe parse(String text, LocalDateTime now) {
    ProbeReader reader = new ProbeReader(names, text, now);
    reader.all();
    return new ProbeFiller(names).filledIn(reader.given(), now, text.length());
  }

  /** Writes a connection as a probe that {@link #parse} reads back. */
  public static String print(Connection connection) {
    Source from = connection.from();
    StringBuilder text = new StringBuilder("from ");
    text.append(from.place().zone()).append(' ').append(from.place().address());
    from.person().ifPresent(login -> text.append(" as ").append(login));
    if (!from.device().equals(Device.UNKNOWN)) {
      text.append(" on ").append(ValueText.print(from.device()));
    }
    text.append(" to ").append(connection.to().zone());
    text.append(' ').append(connection.to().address());
    connection
        .to()
        .host()
        .ifPresent(host -> text.append(' ').append(host).append(host.contains(".") ? "" : "."));
    text.append(" using ");
    text.append(
        ValueText.print(new Value.ServiceRange(connection.service(), connection.service())));
    text.append(' ').append(ValueText.print(connection.using()));
    return text.append(" at ").append(TimeText.print(connection.at())).toString();
  }

  /** The details of a connection as they stand in a probe, in the order of the sentence. */
  public static Map<Detail, String> details(Connection connection) {
    Map<Detail, String> details = new EnumMap<>(Detail.class);
    details.put(Detail.FROM_ZONE, connection.from().place().zone());
    details.put(Detail.FROM_ADDRESS, connection.from().place().address().toString());
    details.put(Detail.PERSON, connection.from().person().orElse("unidentified"));
    details.put(Detail.DEVICE, ValueText.print(connection.from().device()));
    details.put(Detail.TO_ZONE, connection.to().zone());
    details.put(Detail.TO_ADDRESS, connection.to().address().toString());
    details.put(Detail.SITE, connection.to().host().orElse("no host name"));
    details.put(
        Detail.SERVICE,
        ValueText.print(new Value.ServiceRange(connection.service(), connection.service())));
    details.put(Detail.APPLICATION, ValueText.print(connection.using()));
    details.put(Detail.TIME, TimeText.print(connection.at()));
    return details;
  }

  /** Ways to go on at the end of a text that may be unfinished. */
  public Completions complete(String text) {
    return new ProbeCompleter(names).complete(text);
  }
}
