package ironsieve.model;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * One application of the catalogue.
 *
 * @param name unique in its edition
 * @param grouping where it stands: category, family, provider
 * @param worth how dangerous and how needed it is
 * @param features what a person can do inside it; may be empty
 * @param wiring how it travels and what it hangs on
 * @param description one sentence
 */
public record Application(
    String name,
    Grouping grouping,
    Worth worth,
    List<String> features,
    Wiring wiring,
    String description) {

  /**
   * Where an application stands.
   *
   * @param family the applications that share its base application; may be empty
   */
  public record Grouping(String category, String family, String provider) {}

  /** How dangerous an application is, and how much the company needs it. */
  public record Worth(Exposure exposure, WorkValue workValue) {}

  /** How dangerous an application is, mildest first. */
  public enum Exposure {
    SLIGHT,
    MODERATE,
    SERIOUS,
    SEVERE
  }

  /** How much the company needs an application, least first. */
  public enum WorkValue {
    NONE,
    SOME,
    CORE
  }

  /**
   * How an application travels and what it hangs on.
   *
   * @param content whether what travels inside can be read without opening it
   * @param usualPorts the services it normally uses; none means any
   * @param ridesOn the carriers it is seen inside
   * @param needs other applications that must be allowed too before it works
   */
  public record Wiring(
      Content content,
      List<Value.ServiceRange> usualPorts,
      List<String> ridesOn,
      List<String> needs) {

    public Wiring {
      usualPorts = List.copyOf(usualPorts);
      ridesOn = List.copyOf(ridesOn);
      needs = List.copyOf(needs);
    }
  }

  /** Whether what travels inside an application can be read. */
  public enum Content {
    PLAIN,
    ENCRYPTED
  }

  public Application {
    features = List.copyOf(features);
  }

  /** What it can be seen inside: each carrier, or nothing if it rides on none. Never empty. */
  public List<Optional<String>> carriers() {
    return wiring.ridesOn().isEmpty()
        ? List.of(Optional.empty())
        : wiring.ridesOn().stream().map(Optional::of).toList();
  }

  /** What can be used of it: none of its features, then each of them. */
  public List<Optional<String>> parts() {
    return Stream.concat(Stream.of(Optional.<String>empty()), features.stream().map(Optional::of))
        .toList();
  }

  /** A use of it that is none of its features, inside its first carrier if it has any. */
  public Connection.ApplicationUse plainUse() {
    return new Connection.ApplicationUse(
        Optional.of(name), wiring.ridesOn().stream().findFirst(), Optional.empty());
  }
}
