package ironsieve.impact;

import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import java.util.List;
import java.util.stream.Stream;

/**
 * The surroundings of a rulebase before and after a change of them, put together so that both can
 * be asked about one and the same connection. A connection comes from an address, a person, a
 * device, and is about a host name; which zone, groups and category these have is told apart by
 * moment: what a name stands for before and after keeps the name, and what it stands for at one
 * moment only gets a name of its own. A person or kind of device that is not known at a moment is
 * to it somebody unidentified and a device of unknown kind. An address that has no zone at one
 * moment makes no connection there, so it is not compared.
 */
final class BothSurroundings {

  private final SurroundingsChange change;
  private final MomentNames names;
  private final JointZones zones;
  private final JointDirectory people;
  private final JointAtlas atlas;
  private final Environment together;
  private final MomentReading before;
  private final MomentReading after;

  /**
   * The surroundings of a rulebase.
   *
   * @param rulebases it before and after
   */
  BothSurroundings(List<Rulebase> rulebases, SurroundingsChange change) {
    this.change = change;
    names = new MomentNames(change::isName);
    zones = new JointZones(change.before(), change.after());
    people = new JointDirectory(rulebases, change, names);
    atlas = new JointAtlas(change, names);
    together =
        new Environment(
            zones.all(),
            people.all(),
            Stream.concat(
                    change.before().deviceKinds().stream(), change.after().deviceKinds().stream())
                .distinct()
                .toList(),
            change.catalogue(),
            atlas.all(),
            change.after().today());
    before = new MomentReading(this, Moment.BEFORE);
    after = new MomentReading(this, Moment.AFTER);
  }

  SurroundingsChange change() {
    return change;
  }

  JointZones zones() {
    return zones;
  }

  JointDirectory people() {
    return people;
  }

  JointAtlas atlas() {
    return atlas;
  }

  /** Whether a value, as it is written, has a name that was made for one moment only. */
  boolean isOfOneMoment(String text) {
    return names.isMade(text);
  }

  /** Surroundings over which both readings of a rulebase can be compared. */
  Environment together() {
    return together;
  }

  /** A rulebase as it is read before. */
  Rulebase asBefore(Rulebase rulebase) {
    return before.as(rulebase);
  }

  /** A rulebase as it is read after. */
  Rulebase asAfter(Rulebase rulebase) {
    return after.as(rulebase);
  }

  /** A connection over both as it is before. */
  Connection asBefore(Connection connection) {
    return before.as(connection);
  }

  /** A connection over both as it is after. */
  Connection asAfter(Connection connection) {
    return after.as(connection);
  }
}
