package dev.dusky.core.expression;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.type.TypeKind;
import java.nio.charset.StandardCharsets;

/** Any text is an expression or path, or is said not to be one. */
class ExpressionFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void expressions(byte[] bytes) {
    Columns columns = new Columns();
    columns.add("a", TypeKind.VARCHAR);
    columns.add("n", TypeKind.DECIMAL);
    columns.add("at", TypeKind.TIMESTAMP);
    try {
      Evaluator.of(Formula.of(new String(bytes, StandardCharsets.UTF_8)), columns);
    } catch (ExpressionFault | NoResult expected) {
      // that is the answer
    }
  }

  @FuzzTest(maxDuration = "10m")
  void paths(byte[] bytes) {
    byte[] document = "{\"a\":[1,{\"b\":\"x\"}],\"1\":null}".getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    tree.read(document, 0, document.length);
    try {
      JsonPath.parse(new String(bytes, StandardCharsets.UTF_8)).select(tree, 0, 0);
    } catch (IllegalArgumentException expected) {
      // that is the answer
    }
  }
}
