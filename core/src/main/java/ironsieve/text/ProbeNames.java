package ironsieve.text;

import ironsieve.model.Application;
import ironsieve.model.Connection.Device;
import ironsieve.model.Environment;
import ironsieve.model.Zone;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/**
 * The names a probe can say. Those with several words are tried first, so that the longest that
 * fits is meant.
 */
final class ProbeNames {

  private final Environment environment;
  private final List<String> zones;
  private final List<String> deviceKinds;
  private final List<String> applications;

  ProbeNames(Environment environment) {
    this.environment = environment;
    zones = longestFirst(environment.zones().stream().map(Zone::name));
    deviceKinds =
        longestFirst(
            Stream.concat(environment.deviceKinds().stream(), Stream.of(Device.UNKNOWN_KIND)));
    applications =
        longestFirst(environment.catalogue().applications().stream().map(Application::name));
  }

  static List<String> longestFirst(Stream<String> names) {
    return names.sorted(Comparator.comparing(String::length).reversed()).toList();
  }

  Environment environment() {
    return environment;
  }

  List<String> zones() {
    return zones;
  }

  List<String> deviceKinds() {
    return deviceKinds;
  }

  List<String> applications() {
    return applications;
  }
}
