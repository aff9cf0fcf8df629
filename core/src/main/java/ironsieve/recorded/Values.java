package ironsieve.recorded;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Service;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;

/**
 * What the parts of recorded connections are, each value once; connections name them by their
 * places in these lists.
 *
 * @param people logins; nothing for somebody unidentified
 * @param hosts names asked for; nothing for none
 */
public record Values(
    List<Place> from,
    List<Optional<String>> people,
    List<Device> devices,
    List<Place> to,
    List<Optional<String>> hosts,
    List<Service> services,
    List<ApplicationUse> uses) {

  public Values {
    from = List.copyOf(from);
    people = List.copyOf(people);
    devices = List.copyOf(devices);
    to = List.copyOf(to);
    hosts = List.copyOf(hosts);
    services = List.copyOf(services);
    uses = List.copyOf(uses);
  }

  /** How many values there are in all columns. */
  public int count() {
    return Stream.of(from, people, devices, to, hosts, services, uses).mapToInt(List::size).sum();
  }

  /** The same with other uses. */
  public Values withUses(List<ApplicationUse> others) {
    return new Values(from, people, devices, to, hosts, services, others);
  }

  /** The same in other words for zones, people and devices. */
  public Values renamed(
      UnaryOperator<Place> place,
      UnaryOperator<Optional<String>> person,
      UnaryOperator<Device> device) {
    return new Values(
        from.stream().map(place).toList(),
        people.stream().map(person).toList(),
        devices.stream().map(device).toList(),
        to.stream().map(place).toList(),
        hosts,
        services,
        uses);
  }

  /** How many values there are of the dimension with a number; of the times none. */
  public int count(int dimension) {
    return switch (dimension) {
      case 0 -> from.size();
      case 1 -> people.size();
      case 2 -> devices.size();
      case 3 -> to.size();
      case 4 -> hosts.size();
      case 5 -> services.size();
      case 6 -> uses.size();
      default -> 0;
    };
  }
}
