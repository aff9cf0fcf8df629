package ironsieve.impact;

import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;

/**
 * What became of one application between two editions of the catalogue.
 *
 * @param application its name
 * @param words what is different, in a few words each; for a new one what it is
 */
public record EditionChange(String application, Kind kind, List<String> words) {

  /** What became of it. */
  public enum Kind {
    NEW,
    GONE,
    /** In another category or family: it falls under other rules. */
    MOVED,
    CHANGED
  }

  public EditionChange {
    words = List.copyOf(words);
  }

  /** All changes, in the order of the catalogues, what is gone last. */
  public static List<EditionChange> between(Catalogue before, Catalogue after) {
    List<EditionChange> changes = new ArrayList<>();
    for (Application next : after.applications()) {
      Optional<Application> old = before.application(next.name());
      if (old.isEmpty()) {
        changes.add(new EditionChange(next.name(), Kind.NEW, List.of(what(next))));
      } else if (!old.get().equals(next)) {
        changes.add(changed(old.get(), next));
      }
    }
    for (Application old : before.applications()) {
      if (after.application(old.name()).isEmpty()) {
        changes.add(new EditionChange(old.name(), Kind.GONE, List.of(what(old))));
      }
    }
    return changes;
  }

  private static String what(Application application) {
    return application.grouping().category()
        + ", exposure "
        + word(application.worth().exposure())
        + (application.grouping().family().isEmpty()
            ? ""
            : ", family " + application.grouping().family());
  }

  private static String word(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT);
  }

  private static EditionChange changed(Application old, Application next) {
    List<String> words = new ArrayList<>();
    say(words, "category", old.grouping().category(), next.grouping().category());
    say(words, "family", old.grouping().family(), next.grouping().family());
    boolean moved = !words.isEmpty();
    say(words, "exposure", word(old.worth().exposure()), word(next.worth().exposure()));
    say(words, "work value", word(old.worth().workValue()), word(next.worth().workValue()));
    say(words, "features", old.features(), next.features());
    say(words, "needs", old.wiring().needs(), next.wiring().needs());
    say(words, "rides on", old.wiring().ridesOn(), next.wiring().ridesOn());
    if (!old.wiring().usualPorts().equals(next.wiring().usualPorts())) {
      words.add("other usual ports");
    }
    if (words.isEmpty()) {
      words.add("described differently");
    }
    return new EditionChange(next.name(), moved ? Kind.MOVED : Kind.CHANGED, words);
  }

  private static void say(List<String> words, String what, Object old, Object next) {
    if (!Objects.equals(old, next)) {
      words.add(what + " " + plain(old) + " → " + plain(next));
    }
  }

  private static String plain(Object value) {
    String text = value.toString().replaceAll("^\\[|\\]$", "");
    return text.isEmpty() ? "none" : text;
  }
}
