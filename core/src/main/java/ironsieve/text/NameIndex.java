package ironsieve.text;

import ironsieve.model.Application;
import ironsieve.model.Connection.Device;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;

/**
 * The names that a rulebase and its surroundings have for values; those of a kind are gathered when
 * they are first looked for. Safe for use by many threads.
 */
final class NameIndex {

  private final Environment environment;
  private final Parts parts;
  private final Map<ValueKind, Spellings> byKind = new ConcurrentHashMap<>();
  private volatile Spellings applications;
  private volatile Spellings deviceKinds;

  NameIndex(Parts parts, Environment environment) {
    this.parts = parts;
    this.environment = environment;
  }

  Environment environment() {
    return environment;
  }

  /** The notices and lanes that an outcome may name. */
  Parts parts() {
    return parts;
  }

  /** Applications alone, without their features, families and categories. */
  Spellings applications() {
    if (applications == null) {
      applications =
          new Spellings(
              environment.catalogue().applications().stream().map(Application::name).toList());
    }
    return applications;
  }

  /** Kinds of device, without a posture. */
  Spellings deviceKinds() {
    if (deviceKinds == null) {
      deviceKinds =
          new Spellings(
              Stream.concat(environment.deviceKinds().stream(), Stream.of(Device.UNKNOWN_KIND))
                  .toList());
    }
    return deviceKinds;
  }

  /** The names that come nearest to what was typed, as the end of a sentence. */
  String nearest(String typed, SentencePart... some) {
    Set<String> names = new TreeSet<>();
    for (SentencePart part : some) {
      for (FieldName name : part.fields()) {
        of(name.kind()).all().forEach(spelling -> names.add(bare(spelling)));
      }
    }
    List<String> near = Nearest.to(typed, names, 3);
    return near.isEmpty() ? "" : "; did you mean " + String.join(", ", near) + "?";
  }

  /** A spelling without the word that says what it is, such as {@code group}. */
  static String bare(String spelling) {
    return spelling.replaceFirst("^(set|group|family|category|host|country|list) ", "");
  }

  /** All values of a kind that have a name here, as values are written. */
  Spellings of(ValueKind kind) {
    return byKind.computeIfAbsent(kind, one -> new Spellings(values(one)));
  }

  private List<String> values(ValueKind kind) {
    List<String> all = new ArrayList<>();
    for (List<NamedSet> sets : List.of(parts.sets(), environment.sets())) {
      for (NamedSet set : sets) {
        if (set.kind() == kind) {
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
