package ironsieve.text;

import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Writes a rulebase's text: always the same text for the same rulebase, so that a difference
 * between two files is a difference between two rulebases. {@link RulebaseReader} reads it back.
 */
public final class RulebaseWriter {

  private final StringBuilder out = new StringBuilder();
  private final Map<String, List<String>> comments;

  private RulebaseWriter(Map<String, List<String>> comments) {
    this.comments = comments;
  }

  /** The text of a file, comments kept. */
  public static String write(RulebaseFile file) {
    RulebaseWriter writer = new RulebaseWriter(file.comments());
    writer.rulebase(file.rulebase());
    return writer.out.toString();
  }

  /**
   * The text of some rules on their own, in their order, each below a comment that says where it is
   * from; {@link RulebaseReader#rules} reads it back.
   *
   * @param ids of the rules; those that the rulebase does not have are left out
   */
  public static String rules(Rulebase rulebase, Set<String> ids) {
    RulebaseWriter writer = new RulebaseWriter(new HashMap<>());
    List<Rule> all = rulebase.rules();
    for (int i = 0; i < all.size(); i++) {
      Rule rule = all.get(i);
      if (ids.contains(rule.id())) {
        String from = "# rule " + (i + 1) + " of " + rulebase.name();
        writer.comments.put("rule " + rule.id(), List.of(from));
        writer.rule(rule);
      }
    }
    return writer.out.toString();
  }

  private void rulebase(Rulebase rulebase) {
    item("rulebase", "rulebase " + FileLine.quote(rulebase.name()));
    member("rulebase", "default verdict", "default verdict " + rulebase.defaultVerdict().word());
    Parts parts = rulebase.parts();
    if (!parts.capacity().equals(Lane.Rates.NONE)) {
      member("rulebase", "capacity", "capacity " + rates(parts.capacity()));
    }
    parts.sets().forEach(this::set);
    parts.notices().forEach(this::notice);
    parts.lanes().forEach(this::lane);
    parts.sheets().forEach(this::sheet);
    parts.decryption().forEach(this::decryption);
    rulebase.chapters().forEach(this::chapter);
    if (comments.containsKey("")) {
      out.append('\n');
      comments("", "");
    }
  }

  private void item(String key, String line) {
    if (out.length() > 0) {
      out.append('\n');
    }
    comments(key, "");
    out.append(line).append('\n');
  }

  private void member(String item, String what, String line) {
    comments(item + "|" + what, "  ");
    out.append("  ").append(line).append('\n');
  }

  private void comments(String key, String indent) {
    comments.getOrDefault(key, List.of()).forEach(c -> out.append(indent).append(c).append('\n'));
  }

  private void lines(String item, String word, String text) {
    if (!text.isEmpty()) {
      for (String line : text.split("\n", -1)) {
        member(item, word, (word + " " + line).stripTrailing());
        // The comments before the first line are not said again before the others.
        item = "";
      }
    }
  }

  private static String rates(Lane.Rates rates) {
    return RateText.print(rates.up()) + " up " + RateText.print(rates.down()) + " down";
  }

  /** Values as a list; {@link RulebaseReader#items} reads it back as texts. */
  public static String items(List<Value> values) {
    return values.stream()
        .map(ValueText::print)
        .map(FileLine::item)
        .collect(Collectors.joining("; "));
  }

  private void set(NamedSet set) {
    String key = "set " + set.kind().word() + " " + set.name();
    item(key, "set " + set.kind().word() + " " + FileLine.quote(set.name()));
    lines(key, "note", set.note());
    if (!set.values().isEmpty()) {
      member(key, "values", "values: " + items(set.values()));
    }
  }

  private void notice(Notice notice) {
    String key = "notice " + notice.name();
    item(key, "notice " + notice.verdict().word() + " " + FileLine.quote(notice.name()));
    lines(key, "text", notice.text());
  }

  private void lane(Lane lane) {
    String scope =
        switch (lane.scope()) {
          case GATEWAY -> "for the gateway";
          case RULE -> "for each rule";
          case CLIENT -> "for each client";
        };
    String key = "lane " + lane.name();
    item(key, "lane " + FileLine.quote(lane.name()) + " " + scope);
    lines(key, "note", lane.note());
    if (!lane.ceiling().equals(Lane.Rates.NONE)) {
      member(key, "ceiling", "ceiling " + rates(lane.ceiling()));
    }
    if (!lane.guarantee().equals(Lane.Rates.NONE)) {
      member(key, "guarantee", "guarantee " + rates(lane.guarantee()));
    }
    if (lane.clients() > 0) {
      member(key, "clients", "clients " + lane.clients());
    }
  }

  private void sheet(UsageSheet sheet) {
    String key = "sheet " + sheet.name();
    item(key, "sheet " + FileLine.quote(sheet.name()));
    lines(key, "note", sheet.note());
    for (UsageSheet.Line line : sheet.lines()) {
      String about = ValueText.print(line.about());
      member(key, "on " + about, "on " + about + ": " + OutcomeText.print(line.outcome()));
    }
    member(key, "otherwise", "otherwise: " + OutcomeText.print(sheet.otherwise()));
  }

  private void decryption(DecryptionRule line) {
    String key = "decryption rule " + line.id();
    String word =
        line.decision() == DecryptionRule.Decision.DECRYPT ? "decrypt " : "leave encrypted ";
    item(key, word + line.id());
    lines(key, "note", line.note());
    fields(key, line.match());
  }

  private void fields(String key, Rule.Match match) {
    for (Map.Entry<FieldName, Field> entry : match.fields().entrySet()) {
      String not = entry.getValue().sense() == Field.Sense.IS_NOT ? " not" : "";
      member(
          key,
          entry.getKey().key(),
          entry.getKey().key().replace('.', ' ') + not + ": " + items(entry.getValue().values()));
    }
  }

  private void chapter(Chapter chapter) {
    String key = "chapter " + chapter.id();
    item(key, "chapter " + chapter.id() + " " + FileLine.quote(chapter.title()));
    lines(key, "note", chapter.note());
    chapter.rules().forEach(this::rule);
  }

  private void rule(Rule rule) {
    String key = "rule " + rule.id();
    item(
        key,
        "rule "
            + rule.id()
            + (rule.name().isEmpty() ? "" : " " + FileLine.quote(rule.name()))
            + (rule.isOn() ? "" : " off"));
    lines(key, "note", rule.note());
    lines(key, "owner", rule.metadata().owner());
    lines(key, "change", rule.metadata().changes());
    rule.metadata().reviewBy().ifPresent(day -> member(key, "review by", "review by " + day));
    fields(key, rule.match());
    if (rule.match().ports() == Rule.Ports.USUAL) {
      member(key, "usual ports", "usual ports");
    }
    member(key, "then", "then: " + OutcomeText.print(rule.then().outcome()));
    rule.then().sheet().ifPresent(sheet -> member(key, "sheet", "sheet: " + sheet));
    if (rule.then().logging() == Rule.Logging.NOT_LOGGED) {
      member(key, "not logged", "not logged");
    }
  }
}
