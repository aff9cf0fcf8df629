package ironsieve.server.edit;

import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.databind.DatabindContext;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.jsontype.impl.TypeIdResolverBase;
import java.util.Map;
import java.util.TreeMap;

/**
 * Finds the record of a step by what its {@code op} says; the family itself says which there are.
 */
final class StepNames extends TypeIdResolverBase {

  private JavaType family;
  private final Map<String, Class<?>> records = new TreeMap<>();

  @Override
  public void init(JavaType base) {
    family = base;
    gather(base.getRawClass());
  }

  private void gather(Class<?> type) {
    if (type.isSealed()) {
      for (Class<?> permitted : type.getPermittedSubclasses()) {
        gather(permitted);
      }
    } else {
      records.put(Step.op(type.getSimpleName()), type);
    }
  }

  @Override
  public String idFromValue(Object step) {
    return idFromValueAndType(step, step.getClass());
  }

  @Override
  public String idFromValueAndType(Object step, Class<?> type) {
    return Step.op(type.getSimpleName());
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
