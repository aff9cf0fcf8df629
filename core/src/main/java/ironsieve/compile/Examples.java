package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Source;
import ironsieve.model.Environment;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Connections that stand for a point or a box of a space, such that a person would believe them.
 * Safe for many threads.
 */
final class Examples {

  private static final List<Service> COMMON =
      List.of(
          new Service(Service.TCP, 443),
          new Service(Service.TCP, 80),
          new Service(Service.UDP, 53));

  private static final int SITE = Dimension.SITE.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int TIME = Dimension.TIME.ordinal();

  private final Environment environment;
  private final Space.Axes axes;
  private final DeviceAxis devices;

  Examples(Environment environment, Space.Axes axes, DeviceAxis devices) {
    this.environment = environment;
    this.axes = axes;
    this.devices = devices;
  }

  /**
   * A point of a non-empty box that reads like a connection somebody would make: the application on
   * one of its usual ports, or on a common one, or else what is usual on the port there is, in
   * office hours of a working day, and without a host name, if the box has it.
   */
  int[] example(Box box) {
    int[] point = box.point().orElseThrow();
    point[TIME] = axes.times().plainest(box.side(TIME));
    int nameless = axes.sites().atom(Optional.empty());
    if (box.side(SITE).contains(nameless)) {
      point[SITE] = nameless;
    }
    ApplicationUse use = axes.uses().sample(point[USING]);
    for (Service service : usual(use)) {
      int atom = axes.services().atom(service);
      if (box.side(SERVICE).contains(atom)) {
        point[SERVICE] = atom;
        break;
      }
    }
    Service service = service(use, point[SERVICE]);
    if (!isUsual(use, service)) {
      IndexSet side = box.side(USING);
      usuallyOn(service, side)
          .or(() -> Optional.of(ApplicationUse.UNRECOGNISED))
          .map(axes.uses()::atom)
          .filter(side::contains)
          .ifPresent(atom -> point[USING] = atom);
    }
    return point;
  }

  /** The services to look for first where an application is seen: its own, then common ones. */
  private List<Service> usual(ApplicationUse use) {
    List<Service> usual = new ArrayList<>();
    usualPorts(use).forEach(range -> usual.add(range.low()));
    usual.addAll(COMMON);
    return usual;
  }

  private List<Value.ServiceRange> usualPorts(ApplicationUse use) {
    return use.application()
        .flatMap(environment.catalogue()::application)
        .map(application -> application.wiring().usualPorts())
        .orElse(List.of());
  }

  private boolean isUsual(ApplicationUse use, Service service) {
    List<Value.ServiceRange> ports = usualPorts(use);
    for (Value.ServiceRange range : ports) {
      if (range.low().compareTo(service) <= 0 && service.compareTo(range.high()) <= 0) {
        return true;
      }
    }
    return ports.isEmpty();
  }

  /** What normally is on a service, among some atoms, if the catalogue has such a thing. */
  private Optional<ApplicationUse> usuallyOn(Service service, IndexSet atoms) {
    return environment.catalogue().usuallyOn(service).stream()
        .map(Application::plainUse)
        .filter(use -> atoms.contains(axes.uses().atom(use)))
        .findFirst();
  }

  /** One service of an atom, for a use. */
  private Service service(ApplicationUse use, int atom) {
    for (Service service : usual(use)) {
      if (axes.services().atom(service) == atom) {
        return service;
      }
    }
    return axes.services().sample(atom);
  }

  /** One connection at a point; {@link Space#point} leads back. */
  Connection sample(int[] point) {
    ApplicationUse first = axes.uses().sample(point[USING]);
    Service service = service(first, point[SERVICE]);
    ApplicationUse use =
        isUsual(first, service)
            ? first
            : usuallyOn(service, IndexSet.of(point[USING])).orElse(first);
    return new Connection(
        axes.times().sample(point[Dimension.TIME.ordinal()]),
        new Source(
            axes.places().sample(point[Dimension.FROM.ordinal()]),
            axes.people().sample(point[Dimension.PERSON.ordinal()]),
            devices.sample(point[Dimension.DEVICE.ordinal()])),
        new Connection.Destination(
            axes.places().sample(point[Dimension.TO.ordinal()]), axes.sites().sample(point[SITE])),
        service,
        use);
  }
}
