package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.api.ImpactViews.ImpactView;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.releases.Deliveries;
import ironsieve.server.releases.DeliveryPlan;
import ironsieve.server.releases.DraftDifferences;
import ironsieve.server.releases.Release;
import ironsieve.server.releases.Releases;
import jakarta.inject.Inject;
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
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jboss.resteasy.reactive.RestResponse;

/** Releases of a rulebase, and their way to its gateways. */
@Path("/api/rulebases/{id}/releases")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class ReleaseResource {

  private static final Comparator<BesideView> WORST_FIRST =
      Comparator.comparing(ReleaseResource::badness).reversed();

  @Inject Releases releases;
  @Inject Deliveries deliveries;
  @Inject Work work;

  /**
   * A release: its number, the revision it was made of and those left out, what was said of it, by
   * whom and when, and what stood against it.
   */
  @Schema(
      requiredProperties = {
        "number",
        "revision",
        "leftOut",
        "title",
        "reference",
        "note",
        "overrides",
        "who",
        "at"
      })
  public record ReleaseView(
      int number,
      long revision,
      List<Long> leftOut,
      String title,
      String reference,
      String note,
      List<OverrideView> overrides,
      String who,
      Instant at) {}

  /** What stood against a release, and why it was made all the same. */
  @Schema(requiredProperties = {"stop", "words", "reason"})
  public record OverrideView(String stop, String words, String reason) {}

  /**
   * What is to be released: a revision, which has to be the newest, and what it is for; {@code
   * after} is the newest release that the asker knows of, {@code leftOut} are open changes that are
   * not to be in it, and {@code reasons} say why what stands against it is overridden, by the ids
   * of that.
   */
  @Schema(requiredProperties = {"revision", "after", "title"})
  public record ReleaseRequest(
      Long revision,
      Integer after,
      List<Long> leftOut,
      String title,
      String reference,
      String note,
      Map<String, String> reasons,
      OrderRequest order) {}

  /**
   * In which order gateways are told: the names of those that are told together, the first first;
   * those that are named in none follow last. {@code minutes} pass, with all told in force, before
   * the next are told; {@code begins} is when the first are, at once where it is missing.
   */
  public record OrderRequest(List<List<String>> waves, Integer minutes, Instant begins) {}

  /**
   * How a release gets to its gateways in waves: {@code told} of them were told, {@code due} is
   * when the next is; {@code state} is {@code going, paused, held, stopped} or {@code done}, and
   * {@code why} says what holds it.
   */
  @Schema(requiredProperties = {"release", "waves", "minutes", "told", "state", "why", "who", "at"})
  public record PlanView(
      int release,
      List<List<String>> waves,
      int minutes,
      Instant begins,
      int told,
      Instant due,
      String state,
      String why,
      String who,
      Instant at) {}

  /** An edit that no release has in it. */
  @Schema(requiredProperties = {"revision", "at", "who", "reason", "what"})
  public record OpenChangeView(long revision, Instant at, String who, String reason, String what) {}

  /** Something that stands against a release; {@code rule} is the rule it lies at. */
  @Schema(requiredProperties = {"id", "words"})
  public record StopView(String id, String words, String rule) {}

  /** How much is otherwise than in a release: rules, and other things in words. */
  @Schema(requiredProperties = {"added", "changed", "moved", "gone", "others"})
  public record DifferenceView(int added, int changed, int moved, int gone, List<String> others) {}

  /**
   * What some gateways decide by, and what a release would change for them; without {@code release}
   * nothing is in force there yet.
   */
  @Schema(requiredProperties = {"gateways"})
  public record BesideView(
      List<String> gateways, ReleaseView release, DifferenceView differences, ImpactView impact) {}

  /**
   * What a release would do, for the gateways that it would change most first; {@code overrides}
   * stand against it and were overridden before.
   */
  @Schema(requiredProperties = {"revision", "after", "open", "beside", "stops", "overrides"})
  public record PreviewView(
      long revision,
      int after,
      List<OpenChangeView> open,
      List<BesideView> beside,
      List<StopView> stops,
      List<OverrideView> overrides) {}

  /** A rule of the draft that is not as in force: {@code new}, {@code changed} or {@code moved}. */
  @Schema(requiredProperties = {"rule", "mark"})
  public record RuleMarkView(String rule, String mark) {}

  /** A rule that is in force and that the draft has no more. */
  @Schema(requiredProperties = {"id", "name"})
  public record GoneView(String id, String name) {}

  /**
   * What is in force, and how the draft differs from it; {@code gateways} decide by it, {@code
   * elsewhere} are those that decide by something else.
   */
  @Schema(
      requiredProperties = {
        "release",
        "draft",
        "gateways",
        "elsewhere",
        "count",
        "marks",
        "gone",
        "others"
      })
  public record InForceView(
      ReleaseView release,
      long draft,
      List<String> gateways,
      List<String> elsewhere,
      int count,
      List<RuleMarkView> marks,
      List<GoneView> gone,
      List<String> others) {}

  /** The releases of a rulebase, the newest first. */
  @GET
  public List<ReleaseView> all(@PathParam("id") String id) {
    return releases.of(id).stream().map(ReleaseResource::view).toList();
  }

  /** What a release of the draft would do; edits that are left out are named by revision. */
  @GET
  @Path("preview")
  public PreviewView preview(
      @PathParam("id") String id, @QueryParam("leftOut") List<Long> leftOut) {
    work.progress();
    return view(releases.preview(id, leftOut));
  }

  /** What one of the releases would do if it was put in force. */
  @GET
  @Path("{number}/preview")
  public PreviewView preview(@PathParam("id") String id, @PathParam("number") int number) {
    work.progress();
    return view(releases.preview(id, number));
  }

  private static PreviewView view(Releases.Preview preview) {
    return new PreviewView(
        preview.snapshot().revision(),
        preview.newest(),
        preview.open().stream()
            .map(
                one ->
                    new OpenChangeView(
                        one.revision(), one.at(), one.who(), one.reason(), one.what()))
            .toList(),
        preview.beside().stream()
            .map(one -> beside(one, preview.snapshot()))
            .sorted(WORST_FIRST)
            .toList(),
        preview.stops().stream()
            .map(
                stop ->
                    new StopView(
                        stop.id(), stop.words(), stop.rule().isEmpty() ? null : stop.rule()))
            .toList(),
        overrides(preview.overrides()));
  }

  private static BesideView beside(Releases.Beside beside, RulebaseSnapshot next) {
    return beside
        .compared()
        .map(
            one ->
                new BesideView(
                    beside.gateways(),
                    view(one.release()),
                    view(one.differences()),
                    ImpactViews.between(one.snapshot(), next)))
        .orElseGet(() -> new BesideView(beside.gateways(), null, null, null));
  }

  private static DifferenceView view(DraftDifferences differences) {
    Collection<DraftDifferences.Mark> marks = differences.marks().values();
    return new DifferenceView(
        Collections.frequency(marks, DraftDifferences.Mark.NEW),
        Collections.frequency(marks, DraftDifferences.Mark.CHANGED),
        Collections.frequency(marks, DraftDifferences.Mark.MOVED),
        differences.gone().size(),
        differences.others());
  }

  /** What is in force of a rulebase; nothing (204) where nothing was ever released. */
  @GET
  @Path("in-force")
  public RestResponse<InForceView> inForce(@PathParam("id") String id) {
    return releases
        .inForce(id)
        .map(one -> RestResponse.ok(view(one)))
        .orElseGet(RestResponse::noContent);
  }

  private static InForceView view(Releases.InForce inForce) {
    DraftDifferences differences = inForce.compared().differences();
    return new InForceView(
        view(inForce.compared().release()),
        inForce.draft(),
        inForce.gateways(),
        inForce.others(),
        differences.count(),
        differences.marks().entrySet().stream()
            .map(mark -> new RuleMarkView(mark.getKey(), Views.word(mark.getValue())))
            .toList(),
        differences.gone().stream().map(rule -> new GoneView(rule.id(), rule.name())).toList(),
        differences.others());
  }

  /** How the newest release gets to its gateways; nothing (204) where all are told at once. */
  @GET
  @Path("plan")
  public RestResponse<PlanView> plan(@PathParam("id") String id) {
    return deliveries
        .plan(id)
        .map(one -> RestResponse.ok(view(one)))
        .orElseGet(RestResponse::noContent);
  }

  /** Has the plan {@code pause}, {@code go-on} with the next wave now, or {@code stop}. */
  @POST
  @Path("plan/{act}")
  public PlanView act(@PathParam("id") String id, @PathParam("act") String act) {
    Deliveries.Act what =
        Arrays.stream(Deliveries.Act.values())
            .filter(one -> Views.word(one).replace(' ', '-').equals(act))
            .findFirst()
            .orElseThrow(() -> UnknownException.of("act", act, List.of("pause", "go-on", "stop")));
    return view(deliveries.act(id, what));
  }

  private static PlanView view(DeliveryPlan plan) {
    return new PlanView(
        plan.release(),
        plan.waves(),
        plan.minutes(),
        plan.begins().orElse(null),
        plan.told(),
        plan.state() == DeliveryPlan.State.GOING ? plan.due().orElse(null) : null,
        plan.state().word(),
        plan.why(),
        plan.who(),
        plan.at());
  }

  private static Deliveries.Order order(OrderRequest request) {
    return request == null
        ? Deliveries.Order.AT_ONCE
        : new Deliveries.Order(
            request.waves() == null ? List.of() : request.waves(),
            request.minutes() == null ? 0 : request.minutes(),
            Optional.ofNullable(request.begins()));
  }

  /** Makes a release and tells it to the gateways of the rulebase. */
  @POST
  public ReleaseView make(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      ReleaseRequest request) {
    if (request == null || request.revision() == null || request.after() == null) {
      throw new FaultException(
          "release",
          "revision",
          "say which revision is to be released, and after which release (0 for none)");
    }
    if (request.leftOut() != null && request.leftOut().contains(null)) {
      throw new FaultException("release", "leftOut", "a revision is a number, not null");
    }
    return view(
        releases.make(
            id,
            new Releases.Wanted(
                request.revision(),
                request.after(),
                request.leftOut() == null ? List.of() : request.leftOut()),
            new Releases.Words(
                request.title(),
                request.reference(),
                request.note(),
                request.reasons() == null ? Map.of() : request.reasons()),
            order(request.order()),
            new Author(who, "")));
  }

  /**
   * A promise that breaks counts more than anything else, and what is not known more than little.
   */
  private static long badness(BesideView beside) {
    ImpactView impact = beside.impact();
    return impact == null
        ? -1
        : 1_000_000_000_000L * impact.broken().size()
            + 1_000L * impact.recorded().times()
            + impact.kinds().size()
            + (impact.complete() ? 0 : 1);
  }

  /** Tells the gateways of the rulebase to put one of its releases in force, an older one too. */
  @POST
  @Path("{number}/deliver")
  public ReleaseView deliver(
      @PathParam("id") String id,
      @PathParam("number") int number,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      OrderRequest request) {
    return view(releases.deliver(id, number, order(request), new Author(who, "")));
  }

  private static List<OverrideView> overrides(List<Release.Override> overrides) {
    return overrides.stream()
        .map(one -> new OverrideView(one.stop(), one.words(), one.reason()))
        .toList();
  }

  private static ReleaseView view(Release release) {
    return new ReleaseView(
        release.number(),
        release.revision(),
        release.leftOut(),
        release.title(),
        release.reference(),
        release.note(),
        overrides(release.overrides()),
        release.who(),
        release.at());
  }
}
