package ironsieve;

import net.jqwik.api.lifecycle.AroundPropertyHook;
import net.jqwik.api.lifecycle.PropagationMode;
import net.jqwik.api.lifecycle.PropertyExecutionResult;
import net.jqwik.api.lifecycle.PropertyExecutor;
import net.jqwik.api.lifecycle.PropertyLifecycleContext;

/** Gives every property its share of cases; it is found as a service. */
public final class CasesOfProperties implements AroundPropertyHook {

  /**
   * As many a property tries that does not say how many, as the build sets it
   * (jqwik.tries.default).
   */
  private static final int USUAL = 1_000;

  @Override
  public PropertyExecutionResult aroundProperty(
      PropertyLifecycleContext context, PropertyExecutor property) throws Throwable {
    context.attributes().setTries(Cases.of(context.attributes().tries().orElse(USUAL)));
    return property.execute();
  }

  @Override
  public PropagationMode propagateTo() {
    return PropagationMode.ALL_DESCENDANTS;
  }
}
