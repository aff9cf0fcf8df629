package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import ironsieve.files.Contents;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.progress.Progress;
import ironsieve.server.DemoData;
import ironsieve.server.change.Change;
import ironsieve.server.change.Records;
import ironsieve.server.store.Company;
import jakarta.inject.Inject;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What becomes of an edit while others change the workspace. */
@QuarkusTest
class EditBesideChangesTest {

  private static final String BASE = "main-gateway";

  @Inject DemoData demo;
  @Inject ObjectMapper json;
  @Inject Editor editor;
  @Inject WorkspaceEditor workspace;
  @Inject Company company;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  /** Changes the workspace each time an edit of a rulebase has just been worked out. */
  private final class Beside extends Records {

    private final WorkspacePlans.Rewriting rewriting;
    private final int most;
    private int times;

    private Beside(int most, WorkspacePlans.Rewriting rewriting) {
      super(json);
      this.most = most;
      this.rewriting = rewriting;
    }

    @Override
    public List<Change> between(Contents before, Contents after) {
      if (times < most) {
        times++;
        workspace.change(new Author("Wim", ""), "beside", rewriting, new Progress());
      }
      return super.between(before, after);
    }
  }

  /** Takes an edit of the first rule while others are as quick as they like. */
  private Editor.Outcome edited(Beside others, Map<String, FieldDoc> fields) {
    RulebaseSnapshot seen = editor.snapshot(BASE);
    String rule = seen.contents().rules().keySet().iterator().next();
    RulebaseStep.RulePatch nothing = RulebaseStep.RulePatch.NOTHING;
    RulebaseStep.RulePatch patch =
        new RulebaseStep.RulePatch(
            nothing.name(),
            nothing.state(),
            fields,
            nothing.ports(),
            nothing.verdict(),
            nothing.sheet(),
            nothing.logging(),
            Optional.of("mine"),
            nothing.metadata());
    QuarkusMock.installMockForType(others, Records.class);
    return editor.edit(
        BASE,
        seen.revision(),
        new Author("Ann", ""),
        "noted",
        List.of(new RulebaseStep.ChangeRule(rule, patch)),
        new Progress());
  }

  private static Map<String, FieldDoc> from(String group) {
    return Map.of("from.people", new FieldDoc("is", List.of("group " + group)));
  }

  private static WorkspaceContents with(WorkspaceContents before, GroupDoc group) {
    WorkspaceContents after = before.copy();
    after.put(WorkspaceKind.GROUP, group);
    return after;
  }

  private static WorkspaceContents without(WorkspaceContents before, String group) {
    WorkspaceContents after = before.copy();
    after.remove(WorkspaceKind.GROUP, group);
    return after;
  }

  @Test
  void whatOthersAddOrDescribeIsNoReasonToBeginAgain() {
    long version = company.newest().version();
    Beside others =
        new Beside(
            Integer.MAX_VALUE,
            before ->
                with(before, new GroupDoc("g" + before.groups().size(), List.of(), "", null)));
    Editor.Outcome outcome = edited(others, Map.of());
    assertThat(others.times).as("worked out once").isEqualTo(1);
    assertThat(company.newest().version()).isEqualTo(version + 1);
    RulebaseSnapshot now = editor.snapshot(BASE);
    assertThat(now.revision()).isEqualTo(outcome.snapshot().revision());
    assertThat(now.contents().rules().values().iterator().next().note()).isEqualTo("mine");
    assertThat(now.state().workspace())
        .as("read against what the others made, though the edit was not")
        .isEqualTo(version + 1);
  }

  @Test
  void whatNamesWhatIsGoneMeanwhileIsWorkedOutAgainAndRefused() {
    workspace.change(
        new Author("Wim", ""),
        "made",
        before -> with(before, new GroupDoc("Beside", List.of(), "", null)),
        new Progress());
    long revision = editor.snapshot(BASE).revision();
    Beside others = new Beside(1, before -> without(before, "Beside"));
    assertThatThrownBy(() -> edited(others, from("Beside")))
        .isInstanceOf(FaultException.class)
        .hasMessageContaining("Beside");
    assertThat(others.times).isEqualTo(1);
    assertThat(editor.snapshot(BASE).revision()).isEqualTo(revision);
  }

  @Test
  void whatNamesSomethingElseIsWorkedOutAgainAndSaved() {
    workspace.change(
        new Author("Wim", ""),
        "made",
        before -> with(before, new GroupDoc("Beside", List.of(), "", null)),
        new Progress());
    Beside others = new Beside(1, before -> without(before, "Beside"));
    Editor.Outcome outcome = edited(others, Map.of());
    assertThat(outcome.snapshot().state()).isEqualTo(editor.snapshot(BASE).state());
  }
}
