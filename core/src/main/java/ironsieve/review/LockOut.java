package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Service;
import ironsieve.model.Value.ServiceRange;
import ironsieve.model.Zone;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Asks whether anybody could still administer the gateway if identities were not known: whether SSH
 * or HTTPS (ports 22, 443 and 8443, as what usually runs there or as nothing recognised) reaches a
 * gateway zone from an inside zone for somebody unidentified. If not, the topmost rule that lets an
 * identified person do so gets the finding, or, where there is none, the topmost rule that stops
 * it.
 */
final class LockOut {

  private static final int[] PORTS = {22, 443, 8443};

  private final Claims claims;
  private final Space space;
  private int blamed = -1;
  private Message said = Message.text("");
  private Box witness;

  LockOut(Claims claims) {
    this.claims = claims;
    this.space = claims.space();
    List<Box> administration = administration();
    if (administration.isEmpty()) {
      return;
    }
    int person = Dimension.PERSON.ordinal();
    if (passing(administration, space.unidentified()).isPresent()) {
      return;
    }
    IndexSet identified = space.whole(person).minus(space.unidentified());
    Optional<Candidate> byIdentity = passing(administration, identified);
    if (byIdentity.isPresent()) {
      blame(byIdentity.get(), Sentences.administeredByIdentityOnly());
    } else {
      stopping(administration).ifPresent(part -> blame(part, Sentences.administeredByNobody()));
    }
  }

  private void blame(Candidate part, Message why) {
    blamed = part.owner();
    said = why;
    witness = part.box();
  }

  private List<Box> administration() {
    List<ServiceRange> ranges = new ArrayList<>();
    for (int port : PORTS) {
      ranges.add(range(new Service(Service.TCP, port)));
    }
    IndexSet services = space.serviceAtoms(ranges);
    IndexSet uses = space.unrecognised();
    for (Application application : space.environment().catalogue().applications()) {
      boolean bare = application.wiring().ridesOn().isEmpty();
      if (bare && application.wiring().usualPorts().stream().anyMatch(ranges::contains)) {
        uses = uses.union(space.bare(application));
      }
    }
    IndexSet used = uses;
    IndexSet inside = space.placesOn(Zone.Side.INSIDE);
    IndexSet gateway = space.placesOn(Zone.Side.GATEWAY);
    return space.ahead().stream()
        .map(box -> narrowed(box, Dimension.FROM, inside))
        .map(box -> narrowed(box, Dimension.TO, gateway))
        .map(box -> narrowed(box, Dimension.SERVICE, services))
        .map(box -> narrowed(box, Dimension.USING, used))
        .filter(box -> !box.isEmpty())
        .toList();
  }

  private static Box narrowed(Box box, Dimension dimension, IndexSet set) {
    int d = dimension.ordinal();
    return box.with(d, box.side(d).intersect(set));
  }

  /** The topmost part of some connections, by these people, that is let through. */
  private Optional<Candidate> passing(List<Box> connections, IndexSet people) {
    return Parts.of(
            claims, connections.stream().map(b -> narrowed(b, Dimension.PERSON, people)).toList())
        .stream()
        .filter(part -> part.owner() >= 0 && part.outcome().verdict().passes())
        .min(java.util.Comparator.comparingInt(Candidate::owner));
  }

  private Optional<Candidate> stopping(List<Box> connections) {
    return Parts.of(claims, connections).stream()
        .filter(part -> part.owner() >= 0)
        .min(java.util.Comparator.comparingInt(Candidate::owner));
  }

  /** The number of the rule that gets the finding; −1 if there is none. */
  int rule() {
    return blamed;
  }

  Optional<Finding> finding() {
    if (blamed < 0) {
      return Optional.empty();
    }
    Evidence evidence = Evidence.of(administering(claims.witness(witness)));
    return Optional.of(
        new Finding(
            Kind.LOCK_OUT,
            Severity.WARNING,
            claims.id(blamed),
            said,
            List.of(evidence),
            List.of()));
  }

  /**
   * The same witness on a port that gateways are administered by, as what usually runs there: where
   * no rule tells it from others, the box holds those too.
   */
  private Witness administering(Witness found) {
    Connection c = found.connection();
    Service service =
        IntStream.of(PORTS)
            .mapToObj(port -> new Service(Service.TCP, port))
            .filter(one -> holds(Dimension.SERVICE, space.serviceAtoms(List.of(range(one)))))
            .findFirst()
            .orElseThrow();
    ApplicationUse use =
        space.environment().catalogue().applications().stream()
            .filter(application -> application.wiring().ridesOn().isEmpty())
            .filter(application -> application.wiring().usualPorts().contains(range(service)))
            .filter(application -> holds(Dimension.USING, space.bare(application)))
            .findFirst()
            .map(
                one ->
                    new ApplicationUse(Optional.of(one.name()), Optional.empty(), Optional.empty()))
            .orElse(c.using());
    return new Witness(new Connection(c.at(), c.from(), c.to(), service, use), found.caughtBy());
  }

  private boolean holds(Dimension dimension, IndexSet atoms) {
    return witness.side(dimension.ordinal()).intersects(atoms);
  }

  private static ServiceRange range(Service service) {
    return new ServiceRange(service, service);
  }
}
