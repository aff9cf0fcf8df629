package ironsieve.model;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A numbered edition of the application signatures. */
public final class Catalogue {

  private final int edition;
  private final List<Application> applications;
  private final Map<String, Application> byName = new HashMap<>();

  /** The edition with this number and these applications. */
  public Catalogue(int edition, List<Application> applications) {
    this.edition = edition;
    this.applications = List.copyOf(applications);
    applications.forEach(application -> byName.put(application.name(), application));
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

  /** The applications of a family. */
  public List<Application> family(String name) {
    return applications.stream().filter(a -> a.grouping().family().equals(name)).toList();
  }

  /** The applications of a category. */
  public List<Application> category(String name) {
    return applications.stream().filter(a -> a.grouping().category().equals(name)).toList();
  }
}
