package ironsieve.server.api;

import io.quarkus.smallrye.openapi.OpenApiFilter;
import ironsieve.server.edit.Step;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.media.Schema;

/** Describes which step is meant by what {@code op} says, from the names of the steps. */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class StepMapping implements OASFilter {

  @Override
  public Schema filterSchema(Schema schema) {
    if (schema.getDiscriminator() != null
        && schema.getDiscriminator().getPropertyName().equals(Step.OP)
        && schema.getOneOf() != null) {
      for (Schema step : schema.getOneOf()) {
        String name = step.getRef().substring(step.getRef().lastIndexOf('/') + 1);
        schema.getDiscriminator().addMapping(Step.op(name), step.getRef());
      }
    }
    return schema;
  }
}
