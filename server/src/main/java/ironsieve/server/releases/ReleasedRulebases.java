package ironsieve.server.releases;

import ironsieve.files.CompanyFolder;
import ironsieve.files.Manifest;
import ironsieve.model.Environment;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.jobs.FutureCache;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * What releases say, in the surroundings that were frozen with them, so that it can be asked like
 * the draft. Safe for any number of threads.
 */
@ApplicationScoped
public class ReleasedRulebases {

  /** As many as the gateways of a few rulebases decide by at one time. */
  private static final int MOST = 6;

  /** Where surroundings come from concerns no gateway. */
  static final String SOURCES = "sources.json";

  @Inject Editor editor;
  @Inject ReleaseStore store;

  private final FutureCache<Key, RulebaseSnapshot> known = FutureCache.ofCount(MOST);

  /**
   * What a release is, and the day that its surroundings are read as of. Its number alone would be
   * that of another release where the database is another one.
   */
  private record Key(String manifest, LocalDate day) {}

  /**
   * A release, beside the traffic that is recorded by now.
   *
   * @param now the digests of the files that the draft's surroundings are, by name
   */
  RulebaseSnapshot of(Release release, RulebaseSnapshot draft, Map<String, String> now) {
    RulebaseSnapshot read =
        known.get(
            new Key(release.manifest(), draft.state().day()), () -> read(release, draft, now));
    return read.besideTrafficOf(draft);
  }

  private RulebaseSnapshot read(Release release, RulebaseSnapshot draft, Map<String, String> now) {
    RulebaseSnapshot then =
        editor.without(editor.at(release.rulebase(), release.revision()), release.leftOut());
    // What is compared in the same surroundings is compared quickly.
    return surroundings(release).equals(now)
        ? editor.under(then, draft.environment())
        : editor.under(then, environment(release, draft.state().day()));
  }

  private Environment environment(Release release, LocalDate day) {
    Map<String, byte[]> files =
        surroundings(release).entrySet().stream()
            .collect(
                Collectors.toMap(
                    Map.Entry::getKey,
                    part ->
                        store
                            .part(part.getValue())
                            .orElseThrow(
                                () -> new IllegalStateException("a part of a release is gone"))
                            .getBytes(StandardCharsets.UTF_8)));
    return new CompanyFolder(
            path -> Optional.ofNullable(files.get(path)).map(ByteArrayInputStream::new))
        .environment(day);
  }

  /** The digests of the files that a release's surroundings are, by name. */
  static Map<String, String> surroundings(Release release) {
    Map<String, String> digests = new TreeMap<>();
    Manifest.read(release.manifest())
        .parts()
        .forEach(part -> digests.put(part.name(), part.digest()));
    digests.remove(Manifest.RULEBASE);
    digests.remove(SOURCES);
    return digests;
  }
}
