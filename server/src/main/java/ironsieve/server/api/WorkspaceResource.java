package ironsieve.server.api;

import com.fasterxml.jackson.databind.ObjectMapper;
import io.smallrye.common.annotation.Blocking;
import ironsieve.files.DirectoryFile;
import ironsieve.files.Documents.OrganisationDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceKind;
import ironsieve.server.api.RulebasesResource.ColumnView;
import ironsieve.server.api.WorkspaceViews.DirectoryView;
import ironsieve.server.api.WorkspaceViews.WorkspaceEntryView;
import ironsieve.server.api.WorkspaceViews.WorkspaceImpactView;
import ironsieve.server.api.WorkspaceViews.WorkspaceView;
import ironsieve.server.api.WorkspaceViews.ZonesView;
import ironsieve.server.demo.DemoLoader;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.WhereUsed;
import ironsieve.server.edit.WorkspaceEditor;
import ironsieve.server.edit.WorkspaceImpact;
import ironsieve.server.edit.WorkspacePlans;
import ironsieve.server.edit.WorkspaceStep;
import ironsieve.server.edit.WorkspaceUndo;
import ironsieve.server.store.Company;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.WorkspaceStore;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.ByteArrayInputStream;
import java.text.Normalizer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What all rulebases are read against: looked at, changed, taken back. */
@Path("/api/workspace")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class WorkspaceResource {

  private static final String ZIP = "application/zip";
  private static final int MOST_STEPS = 100_000;
  private static final int MOST_SHOWN = 500;

  @Inject Company company;
  @Inject RulebaseStore rulebases;
  @Inject WorkspaceStore store;
  @Inject WorkspaceEditor editor;
  @Inject WorkspacePlans plans;
  @Inject WorkspaceUndo undo;
  @Inject WorkspaceImpact impact;
  @Inject WhereUsed whereUsed;
  @Inject DemoLoader demo;
  @Inject CompanyLoader loader;
  @Inject ObjectMapper json;
  @Inject Work work;

  /**
   * A change.
   *
   * @param version the version it was made on
   * @param what a few words for the journal
   */
  @Schema(requiredProperties = {"version", "what", "steps"})
  public record ChangeRequest(long version, String what, List<WorkspaceStep> steps) {}

  /** Steps to ask the impact of. */
  @Schema(requiredProperties = {"steps"})
  public record TryRequest(List<WorkspaceStep> steps) {}

  /** A wish to take back, on the version seen. */
  @Schema(requiredProperties = {"version"})
  public record WorkspaceTakeBackRequest(long version) {}

  /** The version after a change. */
  @Schema(requiredProperties = {"version"})
  public record VersionView(long version) {}

  /** Where a name of the workspace is used. */
  @Schema(requiredProperties = {"rulebase", "name", "rules", "sets", "others"})
  public record UseView(
      String rulebase,
      String name,
      List<RuleUseView> rules,
      List<String> sets,
      List<String> others) {}

  /** A rule that uses a name; {@code through} a set, or empty. */
  @Schema(requiredProperties = {"id", "number", "name", "through"})
  public record RuleUseView(String id, int number, String name, String through) {}

  @GET
  public WorkspaceView workspace(
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who) {
    Company.WorkspaceVersion known = company.newest();
    WorkspaceUndo.Possible possible = undo.possible(who);
    return new WorkspaceView(
        known.version(),
        loader.isBegun(),
        known.contents().organisation(),
        known.contents().edition(),
        known.contents().zones().size(),
        known.contents().people().size(),
        known.contents().groups().size(),
        known.contents().applications().size(),
        known.contents().sets().size(),
        rulebases.all().stream().map(WorkspaceViews::card).toList(),
        possible.undo().orElse(null),
        possible.redo().orElse(null));
  }

  /** How a new server begins. */
  @Schema(requiredProperties = {"with"})
  public record BeginRequest(String with, String organisation) {}

  /** Begins with the demo company, or empty; refused once anything is there. */
  @POST
  @Path("begin")
  public WorkspaceView begin(
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      BeginRequest request) {
    String with = request == null || request.with() == null ? "" : request.with();
    if (loader.isBegun()) {
      throw new FaultException(
          "workspace", "with", "this server has begun already; nothing of it was changed");
    }
    switch (with) {
      case "demo" -> demo.loadIfEmpty();
      case "empty" -> {
        String name = request.organisation() == null ? "" : request.organisation().trim();
        editor.change(
            company.newest().version(),
            new Author(who, "began"),
            "began",
            List.of(
                new WorkspaceStep.Put(
                    WorkspaceKind.ORGANISATION.word(),
                    json.valueToTree(new OrganisationDoc(name)))),
            work.progress());
      }
      default -> throw new FaultException("workspace", "with", "begin with demo or empty");
    }
    return workspace(who);
  }

  /**
   * Everything as one file: the workspace, the rulebases and what belongs to them; the history too
   * with {@code history=true}.
   */
  @GET
  @Path("archive")
  @Produces(ZIP)
  public Response archive(@QueryParam("history") @DefaultValue("false") String history) {
    return Response.ok(loader.archive(history.equals("true")), ZIP)
        .header("Content-Disposition", "attachment; filename=\"" + archiveName() + "\"")
        .build();
  }

  /** Of what and of which day it is, such as {@code iron-sieve-saltmere-ferries-2026-11-24.zip}. */
  private String archiveName() {
    String organisation =
        Normalizer.normalize(
                String.valueOf(company.newest().contents().organisation()), Normalizer.Form.NFD)
            .toLowerCase(Locale.ROOT)
            .replaceAll("\\p{M}", "")
            .replaceAll("[^a-z0-9]+", "-")
            .replaceAll("^-|-$", "");
    return "iron-sieve-"
        + (organisation.isEmpty() ? "" : organisation + "-")
        + company.today()
        + ".zip";
  }

  /** Begins with an archive; refused once anything is there. */
  @POST
  @Path("archive")
  @Consumes(ZIP)
  public WorkspaceView restore(
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who, byte[] archive) {
    loader.restore(new ByteArrayInputStream(archive == null ? new byte[0] : archive), who);
    return workspace(who);
  }

  @GET
  @Path("zones")
  public ZonesView zones() {
    Company.WorkspaceVersion known = company.newest();
    return WorkspaceViews.zones(known.version(), known.contents(), known.environment());
  }

  /** The named sets that all rulebases share. */
  @GET
  @Path("sets")
  public WorkspaceViews.SharedSetsView sets() {
    Company.WorkspaceVersion known = company.newest();
    return new WorkspaceViews.SharedSetsView(
        known.version(),
        known.contents().sets().stream()
            .map(
                set ->
                    new WorkspaceViews.SharedSetView(
                        set.kind(), set.name(), set.values(), set.note() == null ? "" : set.note()))
            .toList(),
        WorkspaceViews.relations(known.environment()));
  }

  /** Shared sets that no rulebase and no other set names, as {@code kind:name}; reads them all. */
  @GET
  @Path("sets/unused")
  public List<String> unusedSets() {
    return List.copyOf(whereUsed.unusedSets());
  }

  /** People whose login, name, a group or an attribute holds a text, from one of them on. */
  @GET
  @Path("directory")
  public DirectoryView directory(
      @QueryParam("text") @DefaultValue("") String text,
      @QueryParam("group") @DefaultValue("") String group,
      @QueryParam("from") @DefaultValue("0") int from,
      @QueryParam("most") @DefaultValue("100") int most) {
    Company.WorkspaceVersion known = company.newest();
    String wanted = text.trim().toLowerCase(Locale.ROOT);
    List<PersonDoc> matching =
        known.contents().people().stream()
            .filter(person -> wanted.isEmpty() || holds(person, wanted))
            .filter(
                person ->
                    group.isEmpty()
                        || known
                            .environment()
                            .directory()
                            .person(person.login())
                            .map(one -> known.environment().directory().groupsOf(one))
                            .map(all -> all.contains(group))
                            .orElse(false))
            .toList();
    List<PersonDoc> alone =
        known.contents().people().stream().filter(person -> person.groups().isEmpty()).toList();
    return new DirectoryView(
        known.version(),
        known.contents().people().size(),
        matching.size(),
        matching.stream()
            .skip(Math.max(0, from))
            .limit(Math.max(1, Math.min(most, MOST_SHOWN)))
            .map(person -> WorkspaceViews.person(person, known.environment().directory()))
            .toList(),
        alone.size(),
        alone.stream()
            .limit(FEW)
            .map(person -> WorkspaceViews.person(person, known.environment().directory()))
            .toList(),
        WorkspaceViews.groups(known.contents(), known.environment().directory()),
        known.contents().deviceKinds());
  }

  /** So many of those that a page begins with. */
  private static final int FEW = 20;

  private static boolean holds(PersonDoc person, String wanted) {
    return person.login().toLowerCase(Locale.ROOT).contains(wanted)
        || person.name().toLowerCase(Locale.ROOT).contains(wanted)
        || person.groups().stream().anyMatch(g -> g.toLowerCase(Locale.ROOT).contains(wanted))
        || person.attributes().values().stream()
            .anyMatch(value -> value.toLowerCase(Locale.ROOT).contains(wanted));
  }

  /** What a list of people as CSV looks like, before its people are loaded. */
  @POST
  @Path("directory/look")
  public PeopleLookView look(PeopleLookRequest request) {
    if (request == null || request.people() == null || request.people().isBlank()) {
      throw new FaultException("directory", "people", "a list of people as CSV is missing");
    }
    // A step checks the columns somebody chose.
    WorkspaceStep.LoadDirectory load =
        new WorkspaceStep.LoadDirectory("csv", request.people(), "", "keep", request.columns());
    DirectoryFile.Look look = DirectoryFile.look(load.people(), load.columns());
    List<ColumnView> columns = new ArrayList<>();
    for (int c = 0; c < look.columns().size(); c++) {
      columns.add(new ColumnView(look.columns().get(c), look.targets().get(c)));
    }
    return new PeopleLookView(
        columns,
        look.lines(),
        Arrays.stream(DirectoryFile.Target.values()).map(DirectoryFile.Target::word).toList());
  }

  /** A list of people as CSV, and what somebody said its columns hold, by their headings. */
  @Schema(requiredProperties = {"people"})
  public record PeopleLookRequest(String people, Map<String, String> columns) {}

  /** The columns of a list, each with one of the {@code targets}, and its first lines. */
  @Schema(requiredProperties = {"columns", "samples", "targets"})
  public record PeopleLookView(
      List<ColumnView> columns, List<List<String>> samples, List<String> targets) {}

  /** Which rules and sets of which rulebases use a record, by its kind and id. */
  @GET
  @Path("uses")
  public List<UseView> uses(@QueryParam("kind") String kind, @QueryParam("id") String id) {
    return whereUsed.of(kind == null ? "" : kind, id == null ? "" : id).stream()
        .map(
            use ->
                new UseView(
                    use.rulebase(),
                    use.name(),
                    use.rules().stream()
                        .map(
                            rule ->
                                new RuleUseView(
                                    rule.id(), rule.number(), rule.name(), rule.through()))
                        .toList(),
                    use.sets(),
                    use.others()))
        .toList();
  }

  /** What steps would do to every rulebase, without taking them. */
  @POST
  @Path("impact")
  public WorkspaceImpactView impact(TryRequest request) {
    WorkspacePlans.Planned planned = plans.plan(steps(request == null ? null : request.steps()));
    return WorkspaceViews.impact(
        planned, impact.of(planned, WorkspaceViews::onRulebase, work.progress()));
  }

  @POST
  @Path("changes")
  public VersionView change(
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      ChangeRequest request) {
    List<WorkspaceStep> steps = steps(request == null ? null : request.steps());
    return new VersionView(
        editor.change(
            request.version(),
            new Author(who, reason),
            request.what() == null ? "changed the workspace" : request.what(),
            steps,
            work.progress()));
  }

  private static List<WorkspaceStep> steps(List<WorkspaceStep> steps) {
    if (steps == null || steps.isEmpty() || steps.size() > MOST_STEPS) {
      throw new FaultException(
          "change", "steps", "a change has from 1 to " + MOST_STEPS + " steps");
    }
    for (WorkspaceStep step : steps) {
      if (step == null) {
        throw new FaultException("change", "steps", "a step is an object with an \"op\", not null");
      }
    }
    return steps;
  }

  /** Takes the editor's own newest change of the workspace back, or makes it again. */
  @POST
  @Path("{action: undo|redo}")
  public VersionView takeBack(
      @PathParam("action") String action,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      WorkspaceTakeBackRequest request) {
    if (request == null) {
      throw new FaultException(
          "request", "version", "say on which version, such as {\"version\": 7}");
    }
    return new VersionView(
        undo.takeBack(request.version(), new Author(who, reason), action, work.progress()));
  }

  @GET
  @Path("journal")
  public List<WorkspaceEntryView> journal(@QueryParam("most") @DefaultValue("100") int most) {
    return store.newest(Math.max(1, Math.min(most, 500))).stream()
        .map(
            entry ->
                new WorkspaceEntryView(
                    entry.version(),
                    entry.at(),
                    entry.who(),
                    entry.reason(),
                    entry.what(),
                    entry.action()))
        .toList();
  }
}
