package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition;
import ironsieve.model.Value.Filter;
import java.util.List;
import java.util.Locale;

/** Which applications a value holds whole: by name, family, category, or a filter's conditions. */
public final class Filters {

  private Filters() {}

  /** Whether a value holds all of an application; a feature of it is not all of it. */
  public static boolean holds(Value value, Application application) {
    if (value instanceof Value.ApplicationName name) {
      return name.name().equals(application.name());
    }
    if (value instanceof Value.FamilyName name) {
      return name.name().equals(application.grouping().family());
    }
    if (value instanceof Value.CategoryName name) {
      return name.name().equals(application.grouping().category());
    }
    return value instanceof Value.Filter filter && fulfils(filter, application);
  }

  private static boolean fulfils(Filter filter, Application application) {
    return filter.conditions().stream().allMatch(condition -> holds(condition, application));
  }

  private static boolean holds(Condition condition, Application application) {
    Application.Grouping grouping = application.grouping();
    return switch (condition.trait()) {
      case NAME -> any(condition, List.of(application.name()));
      case EXPOSURE -> graded(condition, application.worth().exposure());
      case WORK_VALUE -> graded(condition, application.worth().workValue());
      case CATEGORY -> any(condition, List.of(grouping.category()));
      case FAMILY -> any(condition, List.of(grouping.family()));
      case PROVIDER -> any(condition, List.of(grouping.provider()));
      case RIDES_ON -> any(condition, application.wiring().ridesOn());
      case NEEDS -> any(condition, application.wiring().needs());
    };
  }

  private static <E extends Enum<E>> boolean graded(Condition condition, E grade) {
    E wanted = Enum.valueOf(grade.getDeclaringClass(), condition.wanted().toUpperCase(Locale.ROOT));
    int difference = grade.compareTo(wanted);
    return switch (condition.comparison()) {
      case AT_LEAST -> difference >= 0;
      case AT_MOST -> difference <= 0;
      case IS -> difference == 0;
      case IS_NOT -> difference != 0;
    };
  }

  private static boolean any(Condition condition, List<String> has) {
    boolean any = has.contains(condition.wanted());
    return any == (condition.comparison() == Condition.Comparison.IS);
  }
}
