package ironsieve.model;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A numbered edition of the application signatures. */
public final class Catalogue {

  private final int edition;
  private final List<Application> applications;
  private final Map<String, Application> byName = new HashMap<>();
  private final Map<Service, List<Application>> byPort = new HashMap<>();
  private final Set<String> families = new HashSet<>();
  private final Set<String> categories = new HashSet<>();

  /** The edition with this number and these applications. */
  public Catalogue(int edition, List<Application> applications) {
    this.edition = edition;
    this.applications = List.copyOf(applications);
    for (Application application : applications) {
      byName.put(application.name(), application);
      families.add(application.grouping().family());
      categories.add(application.grouping().category());
      for (Value.ServiceRange ports : application.wiring().usualPorts()) {
        byPort.computeIfAbsent(ports.low(), port -> new ArrayList<>()).add(application);
      }
    }
  }

  public int edition() {
    return edition;
  }

  public List<Application> applications() {
    return applications;
  }

  public Optional<Application> application(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /** The applications of which some usual ports begin with a service, in the catalogue's order. */
  public List<Application> usuallyOn(Service service) {
    return Collections.unmodifiableList(byPort.getOrDefault(service, List.of()));
  }

  /** The families some application is of; the empty name stands for none. */
  public Set<String> families() {
    return Collections.unmodifiableSet(families);
  }

  /** The categories some application is of. */
  public Set<String> categories() {
    return Collections.unmodifiableSet(categories);
  }

  /** The applications of a family. */
  public List<Application> family(String name) {
    return applications.stream().filter(a -> a.grouping().family().equals(name)).toList();
  }

  /** The applications of a category. */
  public List<Application> category(String name) {
    return applications.stream().filter(a -> a.grouping().category().equals(name)).toList();
  }
}
