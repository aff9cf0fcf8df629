package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.edit.Editor;
import jakarta.inject.Inject;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * Who has a rule open in an editor, so that two people know of each other before they save. Pages
 * say so again and again; one that does not any more is forgotten. Known to this server alone, and
 * lost when it ends: it is a courtesy, and saving compares what both changed all the same.
 */
@Path("/api/rulebases/{id}/open-rules/{rule}")
@Produces(MediaType.APPLICATION_JSON)
@Blocking
public class OpenRuleResource {

  private static final long FORGOTTEN_AFTER = 45;
  private static final int LONGEST_WINDOW = 100;
  private static final int MOST = 10_000;

  @Inject Editor editor;
  @Inject Clock clock;

  private record Place(String rulebase, String rule, String window) {}

  private record Person(String who, Instant seen) {}

  private final Map<Place, Person> open = new ConcurrentHashMap<>();

  /** Who else has the rule open; each name once. */
  @Schema(requiredProperties = {"others"})
  public record OpenRuleView(List<String> others) {}

  /**
   * Says that a window has a rule open, and asks who else has.
   *
   * @param window a name the window chose for itself
   */
  @PUT
  public OpenRuleView open(
      @PathParam("id") String id,
      @PathParam("rule") String rule,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @QueryParam("window") @DefaultValue("") String window) {
    demandWindow(window);
    RuleLookup.rule(editor.snapshot(id), rule);
    Instant now = clock.instant();
    open.values().removeIf(person -> person.seen().plusSeconds(FORGOTTEN_AFTER).isBefore(now));
    if (open.size() < MOST) {
      open.put(new Place(id, rule, window), new Person(who, now));
    }
    TreeSet<String> others = new TreeSet<>();
    open.forEach(
        (place, person) -> {
          if (place.rulebase().equals(id)
              && place.rule().equals(rule)
              && !place.window().equals(window)) {
            others.add(person.who());
          }
        });
    return new OpenRuleView(List.copyOf(others));
  }

  /** Says that a window has closed a rule. */
  @DELETE
  public void close(
      @PathParam("id") String id,
      @PathParam("rule") String rule,
      @QueryParam("window") @DefaultValue("") String window) {
    demandWindow(window);
    open.remove(new Place(id, rule, window));
  }

  private static void demandWindow(String window) {
    if (window.isBlank() || window.length() > LONGEST_WINDOW) {
      throw new FaultException(
          "window", "window", "a window names itself in 1 to " + LONGEST_WINDOW + " letters");
    }
  }
}
