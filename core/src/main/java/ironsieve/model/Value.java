package ironsieve.model;

import ironsieve.region.Address;
import ironsieve.region.Range;
import java.time.DayOfWeek;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * One value inside a field or a named set. Values name things (a zone, a group, an application) or
 * spell them out (a range of addresses, a span of time); what a name stands for is worked out
 * against the {@link Environment} when a rulebase is compiled.
 */
public sealed interface Value {

  /** A named set, of the kind of the field it stands in. */
  record SetName(String name) implements Value {}

  /** A zone of the gateway. */
  record ZoneName(String name) implements Value {}

  /** A host, prefix or range of addresses, all of one version. */
  record Network(Range<Address> range) implements Value {}

  /**
   * A host name object: the addresses a host name resolves to now and, as a destination, also the
   * connections that ask for it by name.
   */
  record HostObject(String name) implements Value {}

  /** The addresses of a country, by its two-letter code. */
  record CountryName(String code) implements Value {}

  /** The addresses of a list that is fed from outside. */
  record ListName(String name) implements Value {}

  /** One person, by login. */
  record PersonName(String login) implements Value {}

  /** A directory group with all groups inside it. */
  record GroupName(String name) implements Value {}

  /** Everybody of whom the directory says this, such as {@code home port=Saltmere}. */
  record AttributeIs(String key, String value) implements Value {}

  /** Whether anybody is known at all. */
  enum Identity implements Value {
    IDENTIFIED,
    UNIDENTIFIED
  }

  /**
   * A class of devices.
   *
   * @param kind a kind of device, or nothing for all of them
   * @param posture a state of the device, or nothing for all of them
   */
  record DeviceClass(Optional<String> kind, Optional<Posture> posture) implements Value {}

  /** A run of ports (or ICMP types and codes) of one protocol. */
  record ServiceRange(Service low, Service high) implements Value {}

  /** A whole application, with all its features. */
  record ApplicationName(String name) implements Value {}

  /** One feature of an application. */
  record FeatureName(String application, String feature) implements Value {}

  /**
   * What is used of an application over one of its carriers, on some services. No rulebase says
   * this; it is how one edition of the catalogue reads what another has.
   *
   * @param carrier nothing for an application that rides on none
   * @param parts the features that are meant, nothing standing for none of them; empty for all of
   *     the application
   * @param services none means any
   */
  record ApplicationOver(
      String application,
      Optional<String> carrier,
      Set<Optional<String>> parts,
      List<ServiceRange> services)
      implements Value {

    public ApplicationOver {
      parts = Set.copyOf(parts);
      services = List.copyOf(services);
    }
  }

  /** All applications of a family. */
  record FamilyName(String name) implements Value {}

  /** All applications of a category. */
  record CategoryName(String name) implements Value {}

  /**
   * All applications of which every condition holds, in the catalogue edition in force.
   *
   * @param conditions at least one
   */
  record Filter(List<Condition> conditions) implements Value {

    public Filter {
      conditions = List.copyOf(conditions);
    }

    /** What its conditions on a trait compare with. */
    public List<String> wanted(Condition.Trait trait) {
      return conditions.stream()
          .filter(condition -> condition.trait() == trait)
          .map(Condition::wanted)
          .toList();
    }
  }

  /** One condition on an application, such as {@code exposure >= serious}. */
  record Condition(Trait trait, Comparison comparison, String wanted) {

    /** What a condition looks at. */
    public enum Trait {
      NAME,
      EXPOSURE,
      WORK_VALUE,
      CATEGORY,
      FAMILY,
      PROVIDER,
      RIDES_ON,
      NEEDS;

      /** The word in text. */
      public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', ' ');
      }

      /** Whether there is a more and a less. */
      public boolean isGraded() {
        return this == EXPOSURE || this == WORK_VALUE;
      }
    }

    /** How what an application has is compared to what is wanted. */
    public enum Comparison {
      AT_LEAST(">="),
      AT_MOST("<="),
      IS_NOT("!="),
      IS("=");

      private final String sign;

      Comparison(String sign) {
        this.sign = sign;
      }

      /** The sign in text. */
      public String sign() {
        return sign;
      }
    }
  }

  /**
   * Host names a client asks for.
   *
   * @param name in lower case, without a dot at either end
   */
  record HostName(String name, Reach reach) implements Value {

    /** Which names are meant. */
    public enum Reach {
      /** The name alone. */
      EXACT,
      /** Every name that ends in a dot and the name; not the name itself. */
      BELOW
    }
  }

  /** All host names of a site category; {@link Atlas#UNCATEGORISED} for those of none. */
  record SiteCategory(String name) implements Value {}

  /** Connections that name no host. */
  enum Nameless implements Value {
    HOST
  }

  /** Traffic whose application nothing recognised. */
  enum Unrecognised implements Value {
    APPLICATION
  }

  /**
   * A weekly span of time within a span of dates, in the rulebase's local time.
   *
   * @param dates the first and last day as days since 1970-01-01; {@link #FIRST_DAY} and {@link
   *     #LAST_DAY} where it is open
   * @param days the days it begins on; never empty
   * @param fromMinute the first minute of the day, 0 … 1439
   * @param toMinute the minute it ends before, 1 … 1440; when not after {@code fromMinute} the span
   *     crosses midnight into the next day
   */
  record TimeSpan(Range<Integer> dates, Set<DayOfWeek> days, int fromMinute, int toMinute)
      implements Value {

    /** The first day of the calendar line: 1970-01-01. */
    public static final int FIRST_DAY = 0;

    /** The last day of the calendar line: 9999-12-31. */
    public static final int LAST_DAY = 2_932_896;

    public TimeSpan {
      days = Set.copyOf(days);
    }
  }
}
