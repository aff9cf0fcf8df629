package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.RulePrint;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Findings that somebody has accepted, and whether they still stand. */
public final class Accepted {

  private Accepted() {}

  /** The acceptances whose rules still say what they said. */
  public static Set<AcceptedDoc> standing(Contents contents) {
    return contents.accepted().values().stream()
        .filter(doc -> of(contents, doc.rule(), doc.kind()).isPresent())
        .collect(Collectors.toSet());
  }

  /** The acceptance of a kind of finding about a rule, while the rule still says what it said. */
  public static Optional<AcceptedDoc> of(Contents contents, String rule, String kind) {
    return Optional.ofNullable(contents.accepted().get(rule + ":" + kind))
        .filter(doc -> contents.rules().containsKey(rule))
        .filter(doc -> RulePrint.isOf(doc, contents.rules().get(rule)));
  }
}
