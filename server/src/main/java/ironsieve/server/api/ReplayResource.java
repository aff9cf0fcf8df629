package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.api.TrafficResource.ChartView;
import ironsieve.server.api.TrafficResource.SumView;
import ironsieve.server.api.TrafficResource.TrafficAnswer;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.replays.ReplayResult;
import ironsieve.server.replays.Replays;
import ironsieve.server.store.ReplayStore;
import jakarta.inject.Inject;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Files beside the server, too large for a tape, dropped through a rulebase. */
@Path("/api/rulebases/{id}/replays")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class ReplayResource {

  @Inject Replays replays;

  /** Something that can be replayed. */
  @Schema(requiredProperties = {"path", "isFolder", "bytes"})
  public record SourceFileView(String path, boolean isFolder, long bytes) {}

  /**
   * A replay: {@code standing} is running, done or failed; {@code done} parts of {@code total} are
   * done; {@code why} it failed, or what is to be said of it.
   */
  @Schema(
      requiredProperties = {
        "number",
        "who",
        "begun",
        "source",
        "revision",
        "standing",
        "done",
        "total",
        "why"
      })
  public record ReplayView(
      int number,
      String who,
      Instant begun,
      String source,
      long revision,
      Long against,
      String standing,
      int done,
      int total,
      String why) {}

  /** Whether replays can be run here, and those that were. */
  @Schema(requiredProperties = {"isPossible", "replays"})
  public record ReplaysView(boolean isPossible, List<ReplayView> replays) {}

  /**
   * What came of one: sums as of recorded traffic, connections whose verdict differs between the
   * revisions ({@code changedLines} in all, {@code changedTimes} connections), most frequent first,
   * what could not be read or is not known here, and files that could not be opened.
   */
  @Schema(
      requiredProperties = {
        "traffic",
        "changed",
        "changedLines",
        "changedTimes",
        "unread",
        "missing"
      })
  public record ReplayedView(
      TrafficAnswer traffic,
      List<OtherVerdictView> changed,
      long changedLines,
      long changedTimes,
      List<UnreadReasonView> unread,
      List<String> missing) {}

  /** A connection as a probe, its verdicts by the older revision and by this one, and the rules. */
  @Schema(requiredProperties = {"times", "probe", "before", "after", "rulesBefore", "rulesAfter"})
  public record OtherVerdictView(
      long times,
      String probe,
      String before,
      String after,
      String rulesBefore,
      String rulesAfter) {}

  /** Why lines could not be read or what is not known, how often, and some of them. */
  @Schema(requiredProperties = {"reason", "times", "examples"})
  public record UnreadReasonView(String reason, long times, List<String> examples) {}

  /** What to replay, and the revision to compare with, if there is one. */
  @Schema(requiredProperties = {"source"})
  public record ReplayRequest(String source, Long against) {}

  /** The number of a replay that was begun. */
  @Schema(requiredProperties = {"number"})
  public record BegunView(int number) {}

  /** The replays of a rulebase, the newest first. */
  @GET
  public ReplaysView all(@PathParam("id") String id) {
    return new ReplaysView(
        replays.isPossible(), replays.of(id).stream().map(ReplayResource::view).toList());
  }

  /** What can be replayed: files and folders beside the server. */
  @GET
  @Path("sources")
  public List<SourceFileView> sources(@PathParam("id") String id) {
    return replays.sources(id).stream()
        .map(one -> new SourceFileView(one.path(), one.isFolder(), one.bytes()))
        .toList();
  }

  private static ReplayView view(ReplayStore.Kept one) {
    return new ReplayView(
        one.number(),
        one.who(),
        one.begun(),
        one.asked().source(),
        one.asked().revision(),
        one.asked().against().orElse(null),
        one.standing().word(),
        one.done(),
        one.total(),
        one.why());
  }

  /** Begins a replay of the newest revision. */
  @POST
  public BegunView start(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      ReplayRequest asked) {
    if (asked == null || asked.source() == null) {
      throw new FaultException("replay", "source", "say what is to be replayed");
    }
    return new BegunView(
        replays.start(id, who, asked.source(), Optional.ofNullable(asked.against())));
  }

  /** What came of a replay. */
  @GET
  @Path("{number}")
  public ReplayedView result(@PathParam("id") String id, @PathParam("number") int number) {
    ReplayResult result = replays.result(id, number);
    SumView total = TrafficResource.sum(result.total());
    return new ReplayedView(
        new TrafficAnswer(
            "",
            total,
            total,
            result.steps().stream().map(TrafficResource::step).toList(),
            result.minutes(),
            result.charts().stream()
                .map(
                    chart ->
                        new ChartView(
                            chart.by(),
                            chart.bars().stream().map(TrafficResource::bar).toList(),
                            chart.more()))
                .toList()),
        result.changed().stream().map(ReplayResource::changed).toList(),
        result.changedSum().lines(),
        result.changedSum().connections(),
        result.unread().stream()
            .map(one -> new UnreadReasonView(one.reason(), one.times(), one.examples()))
            .toList(),
        result.missing());
  }

  private static OtherVerdictView changed(ReplayResult.ChangedDoc one) {
    return new OtherVerdictView(
        one.times(), one.probe(), one.before(), one.after(), one.rulesBefore(), one.rulesAfter());
  }

  /** One of its lists of sums as a table. */
  @GET
  @Path("{number}/table")
  @Produces("text/csv")
  public String table(
      @PathParam("id") String id,
      @PathParam("number") int number,
      @QueryParam("by") @DefaultValue("application") String by) {
    List<ReplayResult.ChartDoc> charts = replays.result(id, number).charts();
    ReplayResult.ChartDoc chart =
        charts.stream()
            .filter(one -> one.by().equals(by))
            .findFirst()
            .orElseThrow(
                () ->
                    UnknownException.of(
                        "sum", by, charts.stream().map(ReplayResult.ChartDoc::by).toList()));
    return SumTable.csv(by, chart.bars());
  }

  /** Takes a replay out; where it runs, it is stopped. */
  @DELETE
  @Path("{number}")
  public ReplaysView remove(@PathParam("id") String id, @PathParam("number") int number) {
    replays.remove(id, number);
    return all(id);
  }
}
