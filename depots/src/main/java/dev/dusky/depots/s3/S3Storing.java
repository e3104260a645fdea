package dev.dusky.depots.s3;

import dev.dusky.depots.address.Storing;
import dev.dusky.depots.transfer.ContentType;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.stream.Collectors;
import software.amazon.awssdk.core.SdkRequest;
import software.amazon.awssdk.core.interceptor.Context;
import software.amazon.awssdk.core.interceptor.ExecutionAttributes;
import software.amazon.awssdk.core.interceptor.ExecutionInterceptor;
import software.amazon.awssdk.http.SdkHttpRequest;
import software.amazon.awssdk.services.s3.model.CopyObjectRequest;
import software.amazon.awssdk.services.s3.model.CreateMultipartUploadRequest;
import software.amazon.awssdk.services.s3.model.PutObjectRequest;
import software.amazon.awssdk.services.s3.model.ServerSideEncryption;

/** Adds to each request that stores an object what the depot declares about storing. */
final class S3Storing implements ExecutionInterceptor {

  private final Storing storing;

  S3Storing(Storing storing) {
    this.storing = storing;
  }

  @Override
  public SdkRequest modifyRequest(Context.ModifyRequest context, ExecutionAttributes attributes) {
    SdkRequest request = context.request();
    if (request instanceof PutObjectRequest put) {
      return put.toBuilder()
          .contentType(ContentType.of(put.key()))
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .tagging(tags())
          .build();
    }
    if (request instanceof CreateMultipartUploadRequest create) {
      return create.toBuilder()
          .contentType(ContentType.of(create.key()))
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .tagging(tags())
          .build();
    }
    if (request instanceof CopyObjectRequest copy) {
      return copy.toBuilder()
          .serverSideEncryption(algorithm())
          .ssekmsKeyId(key())
          .storageClass(storing.storageClass().orElse(null))
          .build();
    }
    return request;
  }

  private ServerSideEncryption algorithm() {
    Optional<Storing.Encryption> encryption = storing.encryption();
    if (encryption.isEmpty()) {
      return null;
    }
    return encryption.get().key().isPresent()
        ? ServerSideEncryption.AWS_KMS
        : ServerSideEncryption.AES256;
  }

  private String key() {
    return storing.encryption().flatMap(Storing.Encryption::key).orElse(null);
  }

  /** The tags in the form of a query, or null: servers without tags refuse an empty header. */
  private String tags() {
    return storing.tags().isEmpty()
        ? null
        : storing.tags().entrySet().stream()
            .map(tag -> encoded(tag.getKey()) + "=" + encoded(tag.getValue()))
            .collect(Collectors.joining("&"));
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  @Override
  public SdkHttpRequest modifyHttpRequest(
      Context.ModifyHttpRequest context, ExecutionAttributes attributes) {
    return storing.requesterPays()
        ? context.httpRequest().toBuilder().putHeader("x-amz-request-payer", "requester").build()
        : context.httpRequest();
  }
}
