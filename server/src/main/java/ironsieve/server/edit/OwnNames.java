package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.NamedPlaces;
import ironsieve.model.Value;
import ironsieve.text.ValueText;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Whether a revision names sets of its own that are no longer there. */
final class OwnNames {

  private OwnNames() {}

  /**
   * Where a set would still be named that a change takes away; nothing if none is. Asked where an
   * edit is taken back: somebody may have begun to use what it made.
   *
   * @return such as {@code rule r12 names set Desks, which would be gone}
   */
  static Optional<String> lost(Contents before, Contents after) {
    Map<String, String> gone = new LinkedHashMap<>();
    before.sets().forEach((id, set) -> gone.put(id, set.name()));
    gone.keySet().removeAll(after.sets().keySet());
    if (gone.isEmpty()) {
      return Optional.empty();
    }
    String[] found = new String[1];
    NamedPlaces.each(
        after,
        place -> {
          if (found[0] == null && gone.containsKey(setNamed(place))) {
            found[0] =
                place.record().word()
                    + " "
                    + place.id()
                    + " names "
                    + place.text()
                    + ", which would be gone";
          }
        });
    return Optional.ofNullable(found[0]);
  }

  /** The id of the set that stands there; empty for another value. */
  private static String setNamed(NamedPlaces.Place place) {
    try {
      return ValueText.parse(place.kind(), place.text()) instanceof Value.SetName set
          ? place.kind().word() + ":" + set.name()
          : "";
    } catch (IllegalArgumentException e) {
      return "";
    }
  }
}
