package ironsieve.text;

import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * The names that a rulebase and its environment have for values, and what a word may be among them.
 */
final class QuickRuleNames {

  private final Environment environment;
  private final Parts parts;

  QuickRuleNames(Parts parts, Environment environment) {
    this.parts = parts;
    this.environment = environment;
  }

  /** The notices and lanes that an outcome may name. */
  Parts parts() {
    return parts;
  }

  /**
   * What a single value can be about: a network where a connection comes from and where it goes, an
   * application in its use. Names that are known here go before values that are only spelled right.
   *
   * @return for each field it may stand in, a match on it; at least one
   * @throws TextException with what comes nearest, if it is nothing at all
   */
  List<Rule.Match> about(String text) {
    String wanted = text.strip();
    List<Rule.Match> known = new ArrayList<>();
    List<Rule.Match> spelled = new ArrayList<>();
    for (QuickRulePart part : QuickRulePart.values()) {
      for (FieldName name : part.fields) {
        Optional<String> spelling =
            spellings(name.kind()).stream()
                .filter(one -> one.equalsIgnoreCase(wanted) || bare(one).equalsIgnoreCase(wanted))
                .findFirst();
        if (spelling.isPresent()) {
          known.add(match(name, spelling.get()));
        } else if (isLiteral(name.kind(), wanted)) {
          spelled.add(match(name, wanted));
        }
      }
    }
    if (known.isEmpty() && spelled.isEmpty()) {
      throw new TextException(
          0,
          "\""
              + PlainText.shown(wanted)
              + "\" is nothing known here"
              + nearest(wanted, QuickRulePart.values()));
    }
    return known.isEmpty() ? spelled : known;
  }

  /** The names that come nearest to what was typed, as the end of a sentence. */
  String nearest(String typed, QuickRulePart... some) {
    Set<String> names = new TreeSet<>();
    for (QuickRulePart part : some) {
      for (FieldName name : part.fields) {
        spellings(name.kind()).forEach(spelling -> names.add(bare(spelling)));
      }
    }
    List<String> near = Nearest.to(typed, names, 3);
    return near.isEmpty() ? "" : "; did you mean " + String.join(", ", near) + "?";
  }

  /** A spelling without the word that says what it is, such as {@code group}. */
  private static String bare(String spelling) {
    return spelling.replaceFirst("^(set|group|family|category|host|country|list) ", "");
  }

  private static Rule.Match match(FieldName name, String value) {
    return Rule.Match.any().with(name, Field.is(ValueText.parse(name.kind(), value)));
  }

  /** Whether a text can only be a new value of a kind; every address would do as a host name. */
  private static boolean isLiteral(ValueKind kind, String text) {
    return kind != ValueKind.ZONE
        && isSpelled(kind, text)
        && (kind != ValueKind.SITE || (text.contains(".") && !isSpelled(ValueKind.NETWORK, text)));
  }

  /** Whether a text is a value of a kind that needs no name here. */
  static boolean isSpelled(ValueKind kind, String text) {
    try {
      ValueText.parse(kind, text);
      return kind != ValueKind.APPLICATION && kind != ValueKind.PERSON && kind != ValueKind.DEVICE;
    } catch (TextException e) {
      return false;
    }
  }

  /** All applications by name. */
  List<String> applications() {
    return environment.catalogue().applications().stream().map(Application::name).toList();
  }

  /** All values of a kind that have a name here. */
  List<String> spellings(ValueKind kind) {
    List<String> all = new ArrayList<>();
    for (List<NamedSet> sets : List.of(parts.sets(), environment.sets())) {
      for (NamedSet set : sets) {
        if (set.kind() == kind && !all.contains("set " + set.name())) {
          all.add("set " + set.name());
        }
      }
    }
    switch (kind) {
      case ZONE -> environment.zones().stream().map(Zone::name).forEach(all::add);
      case NETWORK -> {
        environment.atlas().lists().keySet().forEach(list -> all.add("list " + list));
        environment.atlas().hosts().keySet().forEach(host -> all.add("host " + host));
        environment.atlas().countries().keySet().forEach(code -> all.add("country " + code));
      }
      case SITE ->
          environment.atlas().siteCategories().forEach(category -> all.add("category " + category));
      case PERSON -> {
        all.addAll(List.of("identified", "unidentified"));
        environment.directory().groups().stream()
            .map(Directory.Group::name)
            .forEach(group -> all.add("group " + group));
        environment.directory().people().forEach(person -> all.add(person.login()));
      }
      case DEVICE ->
          environment
              .deviceKinds()
              .forEach(
                  device -> {
                    all.add(device);
                    all.add(device + ", healthy");
                    all.add(device + ", unhealthy");
                  });
      case APPLICATION -> {
        for (Application application : environment.catalogue().applications()) {
          all.add(application.name());
          application.features().forEach(f -> all.add(application.name() + "/" + f));
          all.add("category " + application.grouping().category());
          all.add("family " + application.grouping().family());
        }
        all.add("unidentified");
      }
      default -> {
        // Services and times are written out.
      }
    }
    return all;
  }
}
