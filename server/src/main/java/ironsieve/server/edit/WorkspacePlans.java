package ironsieve.server.edit;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceContents;
import ironsieve.model.Environment;
import ironsieve.server.change.Change;
import ironsieve.server.change.Records;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.List;
import java.util.function.UnaryOperator;

/**
 * What a change of the workspace would lead to: zones, people, devices, lists, applications and the
 * edition in force, worked out on the newest version without a lock; nothing is written.
 */
@ApplicationScoped
public class WorkspacePlans {

  @Inject Records records;
  @Inject Company company;
  @Inject ObjectMapper json;

  /**
   * What a change would lead to.
   *
   * @param changes of the workspace's own records
   * @param renamed what rulebases are to call otherwise
   */
  public record Planned(
      Company.WorkspaceVersion before,
      WorkspaceContents after,
      List<Change> changes,
      List<Renaming.Renamed> renamed) {}

  /**
   * What the workspace would be after some steps; nothing is written.
   *
   * @throws FaultException if a step cannot be taken
   */
  public Planned plan(List<WorkspaceStep> steps) {
    return plan(company.newest(), steps);
  }

  /** Makes another workspace of one, which it leaves as it is. */
  public interface Rewriting extends UnaryOperator<WorkspaceContents> {}

  /** The same where it is not said in steps, such as what a source has now. */
  public Planned plan(Rewriting rewriting) {
    return plan(company.newest(), rewriting);
  }

  private Planned plan(Company.WorkspaceVersion before, Rewriting rewriting) {
    WorkspaceContents after = rewriting.apply(before.contents());
    demandEdition(after);
    return new Planned(before, after, records.between(before.contents(), after), List.of());
  }

  /** The same on a version that is known. */
  Planned plan(Company.WorkspaceVersion before, List<WorkspaceStep> steps) {
    WorkspaceContents after = before.contents().copy();
    WorkspaceSteps taken =
        new WorkspaceSteps(after, company.edition(before.contents().edition()), json);
    taken.take(steps);
    demandEdition(after);
    return new Planned(
        before, after, records.between(before.contents(), after), List.copyOf(taken.renamed()));
  }

  /** An edition that has an application of one's own name is asked about, not put in its place. */
  private void demandEdition(WorkspaceContents after) {
    int edition = after.edition();
    if (edition == 0) {
      return;
    }
    List<Integer> editions = company.editions();
    if (!editions.contains(edition)) {
      throw new FaultException(
          "edition " + edition, "edition", "there is no such edition; there are " + editions);
    }
    after.applications().stream()
        .filter(own -> company.edition(edition).application(own.name()).isPresent())
        .findFirst()
        .ifPresent(
            own -> {
              throw new FaultException(
                  "edition " + edition,
                  "edition",
                  "it has an application \""
                      + own.name()
                      + "\", and so have you; rename or remove your own first");
            });
  }

  /** What rulebases would be read against after a planned change. */
  public Environment environment(Planned planned) {
    return environment(planned.after());
  }

  /** What rulebases are read against with these contents. */
  Environment environment(WorkspaceContents contents) {
    return contents.environment(company::edition, company.today());
  }
}
