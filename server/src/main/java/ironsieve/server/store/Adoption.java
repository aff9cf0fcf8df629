package ironsieve.server.store;

import java.time.Instant;

/**
 * An edition of the catalogue put in force, for all rulebases.
 *
 * @param replaced the edition that was in force before
 * @param action {@code edit}, {@code undo} or {@code redo}
 */
public record Adoption(Instant at, int edition, int replaced, String action) implements Done {

  @Override
  public String what() {
    return "put catalogue edition " + edition + " in force";
  }
}
