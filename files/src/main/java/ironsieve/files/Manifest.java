package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * All that a release is: the name and the digest of each of its parts. Two releases that differ in
 * one rule share all other parts.
 *
 * @param rulebase its id
 * @param release its number among those of the rulebase, from 1 on
 * @param revision the revision of the rulebase that it was made of
 * @param day the day that its surroundings are as of, such as 2026-12-02
 * @param parts by name
 */
public record Manifest(
    String rulebase, int release, long revision, String day, List<PartName> parts) {

  /** The part that is the rulebase, as text; the others are files of a company's folder. */
  public static final String RULEBASE = "rulebase.rules";

  private static final ObjectMapper JSON = new ObjectMapper();

  /**
   * A part.
   *
   * @param name its path in a company's folder, or {@link #RULEBASE}
   * @param digest of its content, see {@link Digests}
   */
  public record PartName(String name, String digest) {}

  public Manifest {
    parts = List.copyOf(parts);
  }

  /** A manifest of the texts that a release is made of. */
  public static Manifest of(
      String rulebase, int release, long revision, String day, Map<String, String> texts) {
    return new Manifest(
        rulebase,
        release,
        revision,
        day,
        new TreeMap<>(texts)
            .entrySet().stream()
                .map(part -> new PartName(part.getKey(), Digests.of(part.getValue())))
                .toList());
  }

  /** The text that is signed. */
  public String text() {
    try {
      return JSON.writeValueAsString(this);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Reads what {@link #text} has written.
   *
   * @throws FaultException if it is no manifest
   */
  public static Manifest read(String text) {
    try {
      Manifest read = JSON.readValue(text, Manifest.class);
      return Optional.ofNullable(read)
          .filter(one -> one.rulebase() != null && one.day() != null)
          .filter(one -> one.parts().stream().allMatch(Manifest::isSafe))
          .orElseThrow(
              () ->
                  new FaultException(
                      "manifest",
                      "",
                      "it lacks its rulebase or its day, or has parts that are none"));
    } catch (JsonProcessingException | NullPointerException e) {
      throw new FaultException("manifest", "", "it cannot be read");
    }
  }

  /** The digest becomes the name of a file. */
  private static boolean isSafe(PartName part) {
    return part.name() != null && part.digest().matches("[0-9a-f]{64}");
  }
}
