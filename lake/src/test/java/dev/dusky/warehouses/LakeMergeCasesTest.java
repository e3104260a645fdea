package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import java.util.List;
import org.junit.jupiter.api.Disabled;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

@Tag("contracts")
class LakeMergeCasesTest extends MergeCasesContract {

  @Override
  Warehouse opened() throws Exception {
    return OneLake.open();
  }

  @Override
  DatabaseSettings address() {
    throw new IllegalStateException("the warehouse is opened already");
  }

  @Test
  @Disabled("such tables have no index")
  @Override
  void largeTablesWithoutAnIndexAreNamed() {}

  @Test
  void anEngineThatIsKilledIsNamedAndStartedAgain() {
    ResultTaker killing =
        new ResultTaker() {
          @Override
          public void columns(List<String> names, List<Boolean> numeric) {}

          @Override
          public void row(List<Object> values) {
            ProcessHandle.current()
                .children()
                .filter(p -> p.info().commandLine().orElse("").contains("EngineProcess"))
                .forEach(ProcessHandle::destroyForcibly);
          }

          @Override
          public void changed(long count) {}
        };
    String many = "select id, repeat('x', 1000) from range(1000000)";
    Failure ended = assertThrows(Failure.class, () -> warehouse.run(many, killing));
    assertTrue(ended.getMessage().contains("has ended"), ended.getMessage());
    assertEquals("[[7]]", query("select 7").toString());
  }
}
