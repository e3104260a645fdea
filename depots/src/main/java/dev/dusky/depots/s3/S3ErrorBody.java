package dev.dusky.depots.s3;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Optional;
import software.amazon.awssdk.core.interceptor.Context;
import software.amazon.awssdk.core.interceptor.ExecutionAttribute;
import software.amazon.awssdk.core.interceptor.ExecutionAttributes;
import software.amazon.awssdk.core.interceptor.ExecutionInterceptor;
import software.amazon.awssdk.http.SdkHttpResponse;

/**
 * Keeps the beginning of a refusal's body in a header of the answer, since the client library drops
 * what it does not know, such as the right region, or a page that is not of the protocol.
 */
final class S3ErrorBody implements ExecutionInterceptor {

  private static final int MOST = 16 << 10;
  private static final String HEADER = "dusky-body";
  private static final ExecutionAttribute<byte[]> BODY = new ExecutionAttribute<>(HEADER);

  @Override
  public SdkHttpResponse modifyHttpResponse(
      Context.ModifyHttpResponse context, ExecutionAttributes attributes) {
    SdkHttpResponse response = context.httpResponse();
    Optional<InputStream> in = context.responseBody();
    if (response.isSuccessful() || in.isEmpty()) {
      return response;
    }
    try {
      byte[] body = in.get().readNBytes(MOST);
      attributes.putAttribute(BODY, body);
      return response.toBuilder()
          .putHeader(HEADER, Base64.getEncoder().encodeToString(body))
          .build();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  public Optional<InputStream> modifyHttpResponseContent(
      Context.ModifyHttpResponse context, ExecutionAttributes attributes) {
    byte[] body = attributes.getAttribute(BODY);
    if (body == null || context.httpResponse().isSuccessful()) {
      return context.responseBody();
    }
    return Optional.of(new ByteArrayInputStream(body));
  }

  /** The beginning of the body of a refusal, or an empty string. */
  static String of(SdkHttpResponse response) {
    return response
        .firstMatchingHeader(HEADER)
        .map(text -> new String(Base64.getDecoder().decode(text), StandardCharsets.UTF_8))
        .orElse("");
  }
}
