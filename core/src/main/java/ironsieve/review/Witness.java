package ironsieve.review;

import ironsieve.model.Connection;
import java.util.Optional;

/**
 * One concrete connection that proves something; dropping it as a probe shows the same.
 *
 * @param connection the connection
 * @param caughtBy the id of the rule that catches it, or nothing for the default verdict
 */
public record Witness(Connection connection, Optional<String> caughtBy) {}
