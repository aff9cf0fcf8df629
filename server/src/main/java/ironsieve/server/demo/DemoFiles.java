package ironsieve.server.demo;

import ironsieve.files.CompanyFolder;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.Optional;

/** The demo company's files, which ship inside the server. */
@ApplicationScoped
class DemoFiles {

  CompanyFolder folder() {
    return new CompanyFolder(
        path ->
            Optional.ofNullable(
                Thread.currentThread()
                    .getContextClassLoader()
                    .getResourceAsStream("demo/" + path)));
  }
}
