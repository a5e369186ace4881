using System.Net.Mime;
using System.Text.Json;
using CloudNative.CloudEvents;
using CloudNative.CloudEvents.SystemTextJson;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;

namespace Outcry.Server.Intake;

/// <summary>Reads a CloudEvents 1.0 JSON event (structured mode) whose data is a purchase, booking, sign-up or enquiry.</summary>
internal static class CloudEventReader
{
    private static readonly JsonEventFormatter Formatter = new();

    /// <summary>The event, or the field at fault.</summary>
    public static (IncomingEvent? Event, ArrivalFault? Fault) Read(
        ReadOnlyMemory<byte> body,
        string deliveryId,
        Instant now
    )
    {
        if (MissingAttribute(body) is { } fault)
            return (null, fault);
        CloudEvent cloud;
        try
        {
            cloud = Formatter.DecodeStructuredModeMessage(body, new ContentType("application/cloudevents+json"), null);
        }
        catch (Exception bad) when (bad is ArgumentException or JsonException or FormatException)
        {
            return (
                null,
                new ArrivalFault(NameIn(bad.Message), $"The event is not a CloudEvents 1.0 event: {bad.Message}")
            );
        }
        try
        {
            return (Convert(cloud, deliveryId, now), null);
        }
        catch (FaultException bad)
        {
            return (null, bad.Fault);
        }
    }

    private static ArrivalFault? MissingAttribute(ReadOnlyMemory<byte> body)
    {
        try
        {
            using var json = JsonDocument.Parse(body);
            if (json.RootElement.ValueKind != JsonValueKind.Object)
                return new ArrivalFault("", "The body must be one JSON object, a CloudEvents event.");
            foreach (var name in (ReadOnlySpan<string>)["specversion", "id", "source", "type", "data"])
                if (!json.RootElement.TryGetProperty(name, out var value) || value.ValueKind == JsonValueKind.Null)
                    return new ArrivalFault(name, $"The event has no \"{name}\".");
            return json.RootElement.GetProperty("data").ValueKind == JsonValueKind.Object
                ? null
                : new ArrivalFault("data", "\"data\" must be a JSON object.");
        }
        catch (JsonException bad)
        {
            return NotJson(bad);
        }
    }

    public static ArrivalFault NotJson(JsonException bad) =>
        new("", $"The body is not JSON: line {bad.LineNumber + 1}, byte {bad.BytePositionInLine}.");

    private static IncomingEvent Convert(CloudEvent cloud, string deliveryId, Instant now)
    {
        var kind = KindOf(cloud.Type!);
        if (cloud.Data is not JsonElement { ValueKind: JsonValueKind.Object } data)
            throw new FaultException("data", "\"data\" must be a JSON object.");
        var at = cloud.Time is { } time ? Instant.FromDateTimeOffset(time) : now;
        if (at < Earliest)
            throw new FaultException("time", "The event's time lies before the year 2000.");
        if (at > now + StandardWebhooks.Tolerance)
            throw new FaultException("time", "The event's time lies in the future.");
        var customer = Child(data, "customer", "data.customer");
        var product = Product(data, kind);
        var amount = Amount(data);
        return new IncomingEvent
        {
            ExternalId = Limited(cloud.Id!, "id"),
            DeliveryId = deliveryId,
            Kind = kind,
            At = at,
            FirstName = Text(customer, "firstName", "data.customer") ?? Text(customer, "name", "data.customer"),
            LastName = Text(customer, "lastName", "data.customer"),
            Email = Text(customer, "email", "data.customer"),
            Phone = Text(customer, "phone", "data.customer"),
            City = Text(customer, "city", "data.customer"),
            Region = Text(customer, "region", "data.customer"),
            Country = Text(customer, "country", "data.customer"),
            VisitorId = Text(data, "visitor", "data"),
            Page = Text(data, "page", "data"),
            Product = product,
            Amount = amount,
            Currency = Currency(data, amount),
            Fields = Fields(data, kind),
            IsTest = data.TryGetProperty("test", out var test) && test.ValueKind == JsonValueKind.True,
        };
    }

    // As every other way in takes it; a database has no year 1.
    private static readonly Instant Earliest = Instant.FromUtc(2000, 1, 1, 0, 0);

    // A type is the sender's own reverse-domain name; one of its words says what happened.
    private static EventKind KindOf(string type)
    {
        foreach (var word in type.ToLowerInvariant().Split('.', '-', '_', '/'))
            switch (word)
            {
                case "purchase" or "order":
                    return EventKind.Purchase;
                case "booking":
                    return EventKind.Booking;
                case "signup":
                    return EventKind.SignUp;
                case "enquiry":
                    return EventKind.Enquiry;
                case "basket":
                    return EventKind.BasketAddition;
                case "review":
                    return EventKind.Review;
                case "stock":
                    return EventKind.StockLevel;
                case "own":
                    return EventKind.Own;
            }
        throw new FaultException(
            "type",
            "One word of the type must be purchase, basket, booking, signup, enquiry, review, stock or own, as in com.example.purchase."
        );
    }

    private static EventProduct? Product(JsonElement data, EventKind kind)
    {
        var product = Child(data, "product", "data.product");
        var name = Text(product, "name", "data.product");
        if (string.IsNullOrWhiteSpace(name))
            return EventMap.Needed(kind).Contains(FieldMeaning.Product)
                ? throw new FaultException(
                    "data.product.name",
                    "A purchase, booking, basket addition or stock level must name its product."
                )
                : null;
        return new EventProduct(
            name.Trim(),
            Address(product, "url"),
            Address(product, "image"),
            Text(product, "category", "data.product")
        );
    }

    private static string? Address(JsonElement product, string field)
    {
        var text = Text(product, field, "data.product");
        if (string.IsNullOrEmpty(text))
            return null;
        return SafeLink.TryPassPicture(text)
            ?? throw new FaultException($"data.product.{field}", "It must be an http or https address.");
    }

    private static decimal? Amount(JsonElement data)
    {
        if (!data.TryGetProperty("amount", out var value) || value.ValueKind == JsonValueKind.Null)
            return null;
        if (
            value.ValueKind != JsonValueKind.Number
            || !value.TryGetDecimal(out var amount)
            || amount is < 0 or > 1_000_000_000
        )
            throw new FaultException("data.amount", "The amount must be a number from 0 to 1,000,000,000.");
        return amount;
    }

    private static string? Currency(JsonElement data, decimal? amount)
    {
        var code = Text(data, "currency", "data");
        if (amount is null)
            return null;
        if (code is null || !Core.Sources.Currency.IsKnown(code))
            throw new FaultException("data.currency", "An amount needs its currency as an ISO 4217 code such as GBP.");
        return code.ToUpperInvariant();
    }

    private static Dictionary<string, string> Fields(JsonElement data, EventKind kind)
    {
        var fields = Child(data, "fields", "data.fields");
        var read = new Dictionary<string, string>();
        if (fields.ValueKind == JsonValueKind.Object)
            foreach (var field in fields.EnumerateObject().Take(50))
                read[field.Name] =
                    field.Value.ValueKind == JsonValueKind.String ? field.Value.GetString()! : field.Value.GetRawText();
        // What a kind says by nature stands beside the product, as a number or a text.
        foreach (var name in EventFields.OfKind(kind))
            if (
                data.TryGetProperty(name, out var value)
                && value.ValueKind is (JsonValueKind.Number or JsonValueKind.String)
            )
                read[name] = Checked(name, value.ToString());
        return
            EventFields.OfKind(kind) is [var first, ..]
            && kind is (EventKind.Review or EventKind.StockLevel)
            && !read.ContainsKey(first)
            ? throw new FaultException($"data.{first}", $"\"{first}\" is missing.")
            : read;
    }

    private static string Checked(string name, string written) =>
        name switch
        {
            EventFields.Stars when ValueReading.Amount(written) is not (>= 0 and <= 5) => throw new FaultException(
                "data.stars",
                "Stars are a number from 0 to 5."
            ),
            EventFields.Left when ValueReading.Count(written) is null => throw new FaultException(
                "data.left",
                "The number left must be a whole number."
            ),
            _ => Limited(written, $"data.{name}"),
        };

    private static JsonElement Child(JsonElement parent, string name, string path)
    {
        if (!parent.TryGetProperty(name, out var child) || child.ValueKind == JsonValueKind.Null)
            return default;
        return child.ValueKind == JsonValueKind.Object
            ? child
            : throw new FaultException(path, $"\"{name}\" must be a JSON object.");
    }

    private static string? Text(JsonElement parent, string name, string path)
    {
        if (
            parent.ValueKind != JsonValueKind.Object
            || !parent.TryGetProperty(name, out var value)
            || value.ValueKind == JsonValueKind.Null
        )
            return null;
        return value.ValueKind == JsonValueKind.String
            ? Limited(value.GetString()!, $"{path}.{name}")
            : throw new FaultException($"{path}.{name}", $"\"{name}\" must be a text.");
    }

    private static string Limited(string text, string field) =>
        text.Length <= 2_048
            ? PlainText.Clean(text)
            : throw new FaultException(field, "At most 2,048 characters are taken.");

    private static string NameIn(string message) =>
        new[] { "specversion", "time", "dataschema", "datacontenttype", "source", "type", "id" }.FirstOrDefault(n =>
            message.Contains($"'{n}'", StringComparison.OrdinalIgnoreCase)
            || message.Contains($" {n} ", StringComparison.OrdinalIgnoreCase)
        ) ?? "";

    private sealed class FaultException(string field, string detail) : Exception(detail)
    {
        public ArrivalFault Fault { get; } = new(field, detail);
    }
}
