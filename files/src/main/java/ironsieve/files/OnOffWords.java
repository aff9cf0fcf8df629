package ironsieve.files;

import java.text.Normalizer;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * What tables say of a rule being on or off, in English, German, French, Spanish and Polish. A cell
 * that names a state, such as {@code disabled}, means that state whatever its column is called. A
 * cell that only says yes or no, such as {@code x} or {@code 1}, means it of the name of the
 * column: of one called {@code Disabled} a yes is off.
 */
final class OnOffWords {

  /** Names of columns that say whether a rule is on, as a regular expression over plain letters. */
  static final String COLUMNS =
      "enabled|enable|active|activated|status|state|disabled|disable|inactive|deactivated|off|on|inuse"
          + "|aktiv|aktiviert|eingeschaltet|zustand|deaktiviert|inaktiv|abgeschaltet|ausgeschaltet"
          + "|actif|active|activee|etat|statut|desactive|desactivee|inactif"
          + "|activo|activado|habilitado|estado|desactivado|deshabilitado|inactivo"
          + "|aktywny|aktywna|wlaczony|wlaczona|stan|wylaczony|wylaczona|nieaktywny|nieaktywna";

  private static final Set<String> COLUMNS_OF_OFF =
      Set.of(
          "disabled",
          "disable",
          "inactive",
          "deactivated",
          "off",
          "deaktiviert",
          "inaktiv",
          "abgeschaltet",
          "ausgeschaltet",
          "desactive",
          "desactivee",
          "inactif",
          "desactivado",
          "deshabilitado",
          "inactivo",
          "wylaczony",
          "wylaczona",
          "nieaktywny",
          "nieaktywna");

  private static final Set<String> ON =
      Set.of(
          "on",
          "enabled",
          "enable",
          "active",
          "activated",
          "in use",
          "live",
          "an",
          "ein",
          "aktiv",
          "aktiviert",
          "eingeschaltet",
          "actif",
          "activee",
          "activado",
          "activo",
          "habilitado",
          "aktywny",
          "aktywna",
          "wlaczony",
          "wlaczona",
          "wl");

  private static final Set<String> OFF =
      Set.of(
          "off",
          "disabled",
          "disable",
          "inactive",
          "deactivated",
          "aus",
          "inaktiv",
          "deaktiviert",
          "abgeschaltet",
          "ausgeschaltet",
          "inactif",
          "desactive",
          "desactivee",
          "desactivado",
          "deshabilitado",
          "inactivo",
          "nieaktywny",
          "nieaktywna",
          "wylaczony",
          "wylaczona",
          "wyl");

  private static final Set<String> YES =
      Set.of(
          "yes",
          "y",
          "true",
          "t",
          "1",
          "x",
          "ja",
          "j",
          "wahr",
          "oui",
          "o",
          "vrai",
          "si",
          "verdadero",
          "tak",
          "prawda");

  private static final Set<String> NO =
      Set.of(
          "no", "n", "false", "f", "0", "nein", "falsch", "non", "faux", "falso", "nie", "falsz");

  private OnOffWords() {}

  /**
   * Whether a rule is on by one cell of a table; an empty cell says nothing, so that it is on under
   * any name of the column.
   *
   * @param column the name of the column
   * @return nothing for a word that is none of these
   */
  static Optional<Boolean> isOn(String column, String cell) {
    String word = plain(cell);
    if (word.isEmpty() || word.equals("-")) {
      return Optional.of(true);
    }
    if (ON.contains(word) || OFF.contains(word)) {
      return Optional.of(ON.contains(word));
    }
    boolean isOfOff = COLUMNS_OF_OFF.contains(plain(column).replaceAll("[^a-z]", ""));
    if (YES.contains(word) || NO.contains(word)) {
      return Optional.of(YES.contains(word) != isOfOff);
    }
    return Optional.empty();
  }

  /** Whether a cell of any other column says no. */
  static boolean isNo(String cell) {
    String word = plain(cell);
    return NO.contains(word) || OFF.contains(word);
  }

  /** In small letters without accents. */
  static String plain(String text) {
    String bare =
        text.strip().toLowerCase(Locale.ROOT).replace('\u0142', 'l').replace("\u00df", "ss");
    return Normalizer.normalize(bare, Normalizer.Form.NFD).replaceAll("\\p{M}", "");
  }
}
