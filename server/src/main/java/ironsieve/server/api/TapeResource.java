package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.decide.Hits;
import ironsieve.model.Tape;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.Recorded;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.store.TapeStore;
import ironsieve.text.ProbeText;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Recorded traffic, and what the newest revision would catch of it. */
@Path("/api")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class TapeResource {

  private static final String CSV = "text/csv";
  private static final int MOST_CAUGHT = 200;

  @Inject Editor editor;
  @Inject TapeStore tapes;
  @Inject Work work;

  /**
   * A tape: how many lines and connections it has and when they were seen; {@code trouble} says why
   * it cannot be read any more, if it cannot.
   */
  @Schema(requiredProperties = {"name", "lines", "times", "trouble"})
  public record TapeView(
      String name, int lines, long times, LocalDateTime from, LocalDateTime to, String trouble) {}

  /** How often a rule was hit, and when last. */
  @Schema(requiredProperties = {"times", "last"})
  public record CountView(long times, LocalDateTime last) {}

  /**
   * What one revision would catch of all tapes: by rule, those that were hit at all. {@code days}
   * is 0 if there are no tapes.
   */
  @Schema(
      requiredProperties = {"revision", "state", "rules", "times", "impossible", "days", "tapes"})
  public record HitsView(
      long revision,
      String state,
      Map<String, CountView> rules,
      CountView defaultVerdict,
      long times,
      long impossible,
      long days,
      List<TapeView> tapes) {}

  /** Connections a rule caught, the most frequent first; {@code more} are left out. */
  @Schema(requiredProperties = {"revision", "lines", "more"})
  public record CaughtView(long revision, List<LineView> lines, int more) {}

  /** A connection as a probe, and how often it was seen. */
  @Schema(requiredProperties = {"times", "probe"})
  public record LineView(long times, String probe) {}

  @GET
  @Path("rulebases/{id}/hits")
  public HitsView hits(@PathParam("id") String id) {
    return view(editor.snapshot(id));
  }

  private static HitsView view(RulebaseSnapshot snapshot) {
    Hits hits = snapshot.review().hits();
    Map<String, CountView> rules = new HashMap<>();
    hits.counts().forEach((rule, count) -> rules.put(rule, view(count)));
    List<TapeView> all = new ArrayList<>();
    snapshot.recorded().tapes().forEach(tape -> all.add(view(tape)));
    snapshot
        .recorded()
        .unread()
        .forEach((name, why) -> all.add(new TapeView(name, 0, 0, null, null, why)));
    return new HitsView(
        snapshot.revision(),
        snapshot.state().token(),
        rules,
        hits.defaultVerdict().map(TapeResource::view).orElse(null),
        hits.times(),
        hits.impossible(),
        hits.period().map(Hits.Period::days).orElse(0L),
        all);
  }

  private static CountView view(Hits.Count count) {
    return new CountView(count.times(), count.last());
  }

  private static TapeView view(Tape tape) {
    List<LocalDateTime> seen = tape.lines().stream().map(line -> line.connection().at()).toList();
    return new TapeView(
        tape.name(),
        tape.lines().size(),
        tape.lines().stream().mapToLong(Tape.Line::times).sum(),
        seen.stream().min(Comparator.naturalOrder()).orElse(null),
        seen.stream().max(Comparator.naturalOrder()).orElse(null),
        "");
  }

  /** What a rule caught. */
  @GET
  @Path("rulebases/{id}/hits/rules/{rule}")
  public CaughtView caught(@PathParam("id") String id, @PathParam("rule") String rule) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    Known.rule(snapshot, rule);
    return view(snapshot, snapshot.review().hits().caughtBy(rule));
  }

  /** What fell on the default verdict. */
  @GET
  @Path("rulebases/{id}/hits/default-verdict")
  public CaughtView caughtByDefaultVerdict(@PathParam("id") String id) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    return view(snapshot, snapshot.review().hits().caughtByDefaultVerdict());
  }

  private static CaughtView view(RulebaseSnapshot snapshot, List<Tape.Line> lines) {
    return new CaughtView(
        snapshot.revision(),
        lines.stream()
            .limit(MOST_CAUGHT)
            .map(line -> new LineView(line.times(), ProbeText.print(line.connection())))
            .toList(),
        Math.max(0, lines.size() - MOST_CAUGHT));
  }

  /** A tape as it was handed in. */
  @GET
  @Path("rulebases/{id}/tapes/{name}")
  @Produces(CSV)
  public String export(@PathParam("id") String id, @PathParam("name") String name) {
    return tapes.one(id, name).orElseThrow(() -> missing(id, name)).csv();
  }

  /** Keeps a tape, in the place of one of that name; all of it, or, with a fault, nothing. */
  @PUT
  @Path("rulebases/{id}/tapes/{name}")
  @Consumes(CSV)
  public HitsView load(
      @PathParam("id") String id,
      @PathParam("name") String name,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      String text) {
    return view(editor.record(id, name, who, text == null ? "" : text, work.progress()));
  }

  @DELETE
  @Path("rulebases/{id}/tapes/{name}")
  public HitsView remove(@PathParam("id") String id, @PathParam("name") String name) {
    if (!tapes.remove(id, name)) {
      throw missing(id, name);
    }
    return view(editor.snapshot(id));
  }

  private UnknownException missing(String id, String name) {
    Recorded recorded = editor.snapshot(id).recorded();
    Set<String> known = new TreeSet<>(recorded.unread().keySet());
    recorded.tapes().forEach(tape -> known.add(tape.name()));
    return UnknownException.of("tape", name, known);
  }
}
