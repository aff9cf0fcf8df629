package ironsieve.server.edit;

import ironsieve.files.FaultException;
import ironsieve.progress.Progress;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.List;

/**
 * Changes what all rulebases are read against: zones, people, devices, lists, applications and the
 * edition in force. No rulebase says anything else by it, but where something has another name;
 * what it names and is gone is told by its review.
 */
@ApplicationScoped
public class WorkspaceEditor {

  private static final int MOST_WHAT = 500;
  private static final int MOST_TIMES = 5;

  @Inject Company company;
  @Inject WorkspacePlans plans;
  @Inject WorkspaceWriter writer;

  /**
   * Takes steps as one change.
   *
   * @param version the version the editor saw
   * @param what a few words for the journal
   * @return the version after it
   * @throws StaleRevisionException if that is not the newest
   * @throws FaultException if a step cannot be taken
   * @throws NothingToDoException if everything is so already
   */
  public long change(
      long version, Author author, String what, List<WorkspaceStep> steps, Progress progress) {
    FaultException.demandName("change", "what", what, MOST_WHAT);
    Company.WorkspaceVersion before = company.newest();
    writer.demandNewest(version, before.version());
    progress.begin("checking records", 0);
    return save(plans.plan(before, steps), author, what, progress);
  }

  /**
   * Takes a change that is worked out on whatever is newest as it is made.
   *
   * @throws NothingToDoException if everything is so already
   * @throws StaleRevisionException if others were quicker again and again
   */
  public long change(
      Author author, String what, WorkspacePlans.Rewriting rewriting, Progress progress) {
    FaultException.demandName("change", "what", what, MOST_WHAT);
    for (int time = 1; ; time++) {
      progress.begin("checking records", 0);
      try {
        return save(plans.plan(rewriting), author, what, progress);
      } catch (StaleRevisionException e) {
        if (time == MOST_TIMES) {
          throw e;
        }
      }
    }
  }

  private long save(WorkspacePlans.Planned planned, Author author, String what, Progress progress) {
    return writer.keep(
        new WorkspaceWriter.Intended(planned.changes(), planned.renamed()),
        planned.before(),
        author,
        what,
        "edit",
        null,
        progress);
  }
}
