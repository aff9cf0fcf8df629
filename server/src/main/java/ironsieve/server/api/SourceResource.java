package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.Documents.FeedDoc;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.server.api.WorkspaceViews.WorkspaceImpactView;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.WorkspaceImpact;
import ironsieve.server.edit.WorkspacePlans;
import ironsieve.server.sources.SourceException;
import ironsieve.server.sources.SourceState;
import ironsieve.server.sources.Sources;
import ironsieve.server.store.Company;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * Sources that keep some of the workspace current: what is known of each, reading one now, and
 * taking what it brought. They are set up, changed and removed like every record of the workspace.
 */
@Path("/api/workspace/sources")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class SourceResource {

  private static final int MOST_WORDS = 200;
  private static final int MOST_PASSWORD = 1_000;

  @Inject Sources sources;
  @Inject WorkspaceImpact impact;
  @Inject Company company;
  @Inject Work work;

  /** All sources, on a version of the workspace. */
  @Schema(requiredProperties = {"version", "sources"})
  public record SourcesView(long version, List<SourceView> sources) {}

  /**
   * One source and what is known of it; {@code lookedAt} and {@code goodAt} are missing until
   * somebody has looked, {@code problem} is empty unless the last look went wrong. {@code waiting}
   * changes wait since {@code waitingSince}.
   */
  @Schema(
      requiredProperties = {
        "name",
        "kind",
        "address",
        "into",
        "every",
        "adopt",
        "mostRemoved",
        "key",
        "problem",
        "waiting",
        "waitingWhy",
        "leftOut",
        "told",
        "resolved"
      })
  public record SourceView(
      String name,
      String kind,
      String address,
      String into,
      int every,
      String adopt,
      int mostRemoved,
      LdapDoc directory,
      String key,
      FeedDoc feed,
      Instant lookedAt,
      Instant goodAt,
      String problem,
      int waiting,
      Instant waitingSince,
      String waitingWhy,
      List<String> leftOut,
      String told,
      Map<String, Instant> resolved) {}

  /** What waits of a source: each change in a few words, and what all of it would do. */
  @Schema(requiredProperties = {"changes", "impact"})
  public record WaitingView(List<String> changes, WorkspaceImpactView impact) {}

  /** A source as it may be set up; without a password the one kept under its name. */
  @Schema(requiredProperties = {"source"})
  public record TrySourceRequest(SourceDoc source, String password) {}

  /** The first of what a source has, or why it cannot be read; the other is empty. */
  @Schema(requiredProperties = {"lines", "problem"})
  public record TriedSourceView(List<String> lines, String problem) {}

  /** A password; nobody is shown it again. */
  @Schema(requiredProperties = {"password"})
  public record PasswordRequest(String password) {}

  @GET
  public SourcesView all() {
    return new SourcesView(
        company.newest().version(), sources.all().stream().map(SourceResource::view).toList());
  }

  private static SourceView view(Sources.Known known) {
    SourceDoc source = known.source();
    SourceState state = known.state();
    return new SourceView(
        source.name(),
        source.kind(),
        source.address(),
        source.into(),
        source.every(),
        source.adopt(),
        source.mostRemoved(),
        source.directory(),
        source.key(),
        source.feed(),
        state.lookedAt(),
        state.goodAt(),
        state.problem(),
        state.waiting(),
        state.waitingSince(),
        state.waitingWhy(),
        state.leftOut(),
        state.told(),
        state.resolvedAt());
  }

  /** Reads a source now; if it cannot be read, the answer says why. */
  @POST
  @Path("{name}/sync")
  public SourceView sync(
      @PathParam("name") String name,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason) {
    return view(sources.sync(name, new Author(who, reason), work.progress()));
  }

  /** What waits of a source, and what it would do to every rulebase. */
  @GET
  @Path("{name}/waiting")
  public WaitingView waiting(@PathParam("name") String name) {
    WorkspacePlans.Planned planned = sources.waiting(name);
    return new WaitingView(
        planned.changes().stream().limit(MOST_WORDS).map(Sources::words).toList(),
        WorkspaceViews.impact(
            planned, impact.of(planned, WorkspaceViews::onRulebase, work.progress())));
  }

  /** Takes what waits of a source. */
  @POST
  @Path("{name}/adopt")
  public SourceView adopt(
      @PathParam("name") String name,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason) {
    return view(sources.adopt(name, new Author(who, reason), work.progress()));
  }

  /** Lets go what waits of a source. */
  @POST
  @Path("{name}/drop")
  public SourceView drop(@PathParam("name") String name) {
    return view(sources.drop(name));
  }

  /** Keeps the password that a source asks for. */
  @PUT
  @Path("{name}/password")
  public SourceView password(@PathParam("name") String name, PasswordRequest request) {
    String password = request == null || request.password() == null ? "" : request.password();
    if (password.length() > MOST_PASSWORD) {
      throw new FaultException(
          "source " + name, "password", "a password has at most " + MOST_PASSWORD + " letters");
    }
    sources.password(name, password);
    return view(sources.of(name));
  }

  /** The first of what a source has, if it was set up like this; nothing is kept. */
  @POST
  @Path("try")
  public TriedSourceView first(TrySourceRequest request) {
    if (request == null || request.source() == null) {
      throw new FaultException("request", "source", "say which source to try");
    }
    try {
      return new TriedSourceView(
          sources.first(request.source(), Optional.ofNullable(request.password()), work.progress()),
          "");
    } catch (SourceException e) {
      return new TriedSourceView(List.of(), e.getMessage());
    }
  }
}
