package ironsieve.files;

import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.databind.DatabindContext;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.jsontype.impl.TypeIdResolverBase;
import java.util.Locale;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * Finds the record of a step by what its {@code op} says; the family itself says which there are.
 */
public final class SealedNames extends TypeIdResolverBase {

  private JavaType family;
  private SortedMap<String, Class<?>> records = new TreeMap<>();

  /** What a record is called in JSON. */
  public static String of(String record) {
    return record.replaceAll("(?<=[a-z])(?=[A-Z])", "_").toUpperCase(Locale.ROOT);
  }

  /** The records of a family by their names, in order of these. */
  static SortedMap<String, Class<?>> all(Class<?> family) {
    if (!family.isSealed()) {
      return new TreeMap<>(Map.of(of(family.getSimpleName()), family));
    }
    SortedMap<String, Class<?>> all = new TreeMap<>();
    for (Class<?> permitted : family.getPermittedSubclasses()) {
      all.putAll(all(permitted));
    }
    return all;
  }

  @Override
  public void init(JavaType base) {
    family = base;
    records = all(base.getRawClass());
  }

  @Override
  public String idFromValue(Object record) {
    return idFromValueAndType(record, record.getClass());
  }

  @Override
  public String idFromValueAndType(Object record, Class<?> type) {
    return of(type.getSimpleName());
  }

  @Override
  public JavaType typeFromId(DatabindContext context, String op) {
    Class<?> record = records.get(op);
    return record == null ? null : context.constructSpecializedType(family, record);
  }

  @Override
  public String getDescForKnownTypeIds() {
    return records.keySet().toString();
  }

  @Override
  public JsonTypeInfo.Id getMechanism() {
    return JsonTypeInfo.Id.CUSTOM;
  }
}
