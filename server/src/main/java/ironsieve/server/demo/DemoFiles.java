package ironsieve.server.demo;

import ironsieve.files.CompanyFolder;
import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
import ironsieve.files.RecordKind;
import ironsieve.text.RulebaseReader;
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

  Contents rulebase(String name) {
    CompanyFolder folder = folder();
    Contents contents =
        DocumentWriter.contents(
            name, RulebaseReader.read(folder.text("rulebases/" + name + ".rules")).rulebase());
    folder.promises(name).forEach(promise -> contents.put(RecordKind.PROMISE, promise));
    return contents;
  }
}
