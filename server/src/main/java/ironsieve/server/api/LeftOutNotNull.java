package ironsieve.server.api;

import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.media.Schema;

/**
 * Describes what may be missing as members that are left out: the generator would call each of them
 * null as well, and whoever reads the description would have to provide for both.
 */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class LeftOutNotNull implements OASFilter {

  @Override
  public Schema filterSchema(Schema schema) {
    List<Schema.SchemaType> types = schema.getType();
    if (types != null && types.size() > 1 && types.contains(Schema.SchemaType.NULL)) {
      List<Schema.SchemaType> kept = new ArrayList<>(types);
      kept.remove(Schema.SchemaType.NULL);
      schema.setType(kept);
    }
    List<Schema> choices = schema.getAnyOf();
    if (choices != null && choices.size() == 2) {
      choices.stream()
          .filter(choice -> List.of(Schema.SchemaType.NULL).equals(choice.getType()))
          .findFirst()
          .ifPresent(
              none -> {
                Schema other = choices.get(choices.indexOf(none) == 0 ? 1 : 0);
                schema.setAnyOf(null);
                schema.setRef(other.getRef());
              });
    }
    return schema;
  }
}
