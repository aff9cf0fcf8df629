package ironsieve.impact;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import java.util.stream.Stream;

/**
 * Surroundings before and after a change of them. What is the same in both, of tens of thousands of
 * people and applications, is found out once for all rulebases. Safe for use by many threads.
 */
public final class SurroundingsChange {

  private final Environment before;
  private final Environment after;
  private final boolean sameCatalogue;
  private final boolean sameDirectory;
  private final boolean rewired;
  private final Catalogue catalogue;

  /** A change of surroundings. */
  public SurroundingsChange(Environment before, Environment after) {
    this.before = before;
    this.after = after;
    Catalogue old = before.catalogue();
    Catalogue next = after.catalogue();
    sameCatalogue = old.applications().equals(next.applications());
    sameDirectory =
        before.directory() == after.directory()
            || before.directory().groups().equals(after.directory().groups())
                && before.directory().people().equals(after.directory().people());
    catalogue = sameCatalogue ? next : EditionReading.together(old, next);
    rewired =
        !sameCatalogue
            && catalogue.applications().stream()
                .anyMatch(
                    application -> !sameWiring(application, old) || !sameWiring(application, next));
  }

  /**
   * Whether an edition, if it knows an application, has it over the same carriers and encryption.
   */
  private static boolean sameWiring(Application application, Catalogue edition) {
    return edition
        .application(application.name())
        .map(Application::wiring)
        .map(
            known ->
                application.wiring().ridesOn().equals(known.ridesOn())
                    && application.wiring().content() == known.content())
        .orElse(true);
  }

  /** The surroundings at one of both moments. */
  Environment at(Moment moment) {
    return moment == Moment.BEFORE ? before : after;
  }

  /** Whether a group, an attribute or an address list is called so before or after. */
  boolean isName(String name) {
    return Stream.of(before, after)
        .anyMatch(
            one ->
                one.directory().group(name).isPresent()
                    || one.directory().attributes().contains(name)
                    || one.atlas().lists().containsKey(name));
  }

  /** The surroundings until now. */
  public Environment before() {
    return before;
  }

  /** The surroundings from then on. */
  public Environment after() {
    return after;
  }

  boolean sameCatalogue() {
    return sameCatalogue;
  }

  boolean sameDirectory() {
    return sameDirectory;
  }

  /** Whether some application comes over other carriers, or is encrypted otherwise. */
  boolean isRewired() {
    return rewired;
  }

  /** The applications of both sides. */
  Catalogue catalogue() {
    return catalogue;
  }
}
