using System.Globalization;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Sources;

/// <summary>What surrounds the data an event is read from.</summary>
/// <param name="FallbackId">Makes the event's id where the data has none.</param>
/// <param name="Now">For events without a time, and to refuse those dated in the future.</param>
/// <param name="Zone">For times without an offset.</param>
public sealed record ReadingContext(Func<string> FallbackId, Instant Now, DateTimeZone Zone);

/// <summary>Reads an event from somebody else's data by a map.</summary>
public static class MapReader
{
    /// <summary>How far a sender's clock may run ahead of ours.</summary>
    public static Duration ClockTolerance { get; } = Duration.FromMinutes(5);

    /// <summary>The event, or what stands in its way.</summary>
    /// <param name="map">Where everything stands.</param>
    /// <param name="read">The text at a place; null or empty where there is none.</param>
    /// <param name="context">What surrounds the data.</param>
    public static (IncomingEvent? Event, ArrivalFault? Fault) Read(
        EventMap map,
        Func<string, string?> read,
        ReadingContext context
    )
    {
        try
        {
            return (new Row(map, read, context).ToArrival(), null);
        }
        catch (RowFault fault)
        {
            return (null, fault.Fault);
        }
    }

    private sealed class Row(EventMap map, Func<string, string?> read, ReadingContext context)
    {
        public IncomingEvent ToArrival()
        {
            foreach (var needed in EventMap.Needed(map.Kind))
                if (Text(needed) is null)
                    throw Fault(needed, $"The {EventMap.Named(needed)} is missing.");
            var amount = Amount();
            return new IncomingEvent
            {
                ExternalId = Clip(Text(FieldMeaning.Id), EventFields.LongestValue) ?? context.FallbackId(),
                Kind = map.Kind,
                At = Time(),
                FirstName = Text(FieldMeaning.FirstName),
                LastName = Text(FieldMeaning.LastName),
                Email = Text(FieldMeaning.Email),
                Phone = Text(FieldMeaning.Phone),
                City = Text(FieldMeaning.City),
                Region = Text(FieldMeaning.Region),
                Country = Text(FieldMeaning.Country),
                VisitorId = Text(FieldMeaning.Visitor),
                Page = Address(FieldMeaning.Page),
                Product = Text(FieldMeaning.Product) is { } product
                    ? new EventProduct(
                        product,
                        Address(FieldMeaning.ProductAddress),
                        Address(FieldMeaning.ProductPicture),
                        Text(FieldMeaning.Category)
                    )
                    : null,
                Amount = amount,
                Currency = amount is null ? null : Code(),
                Fields = Fields(),
                IsTest = Text(FieldMeaning.Test) is { } test && ValueReading.IsYes(test),
            };
        }

        private Instant Time()
        {
            if (Text(FieldMeaning.Time) is not { } written)
                return context.Now;
            if (ValueReading.Time(written, context.Zone, map.Dates) is not { } at)
                throw map.Dates is null && WrittenDate.IsAmbiguous(written)
                    ? Fault(
                        FieldMeaning.Time,
                        $"In \"{Clip(written, 40)}\" either number may be the day. Say whether dates are written day first or month first."
                    )
                    : Fault(
                        FieldMeaning.Time,
                        $"\"{Clip(written, 40)}\" is no time. Write it as 2026-11-24T10:00:00Z."
                    );
            return at <= context.Now + ClockTolerance
                ? at
                : throw Fault(FieldMeaning.Time, "The time lies in the future; what is told must have happened.");
        }

        private decimal? Amount() =>
            Text(FieldMeaning.Amount) is not { } written ? null
            : ValueReading.Amount(written) is { } amount ? amount
            : throw Fault(FieldMeaning.Amount, $"\"{Clip(written, 40)}\" is no amount from 0 to 1,000,000,000.");

        private string Code()
        {
            var code =
                Text(FieldMeaning.Currency)
                ?? Currency.OfSign(Text(FieldMeaning.Amount) ?? "")
                ?? (map.Currency.Length > 0 ? map.Currency : null)
                ?? throw Fault(FieldMeaning.Currency, "An amount needs its currency, as an ISO 4217 code such as GBP.");
            return Currency.IsKnown(code)
                ? code.ToUpperInvariant()
                : throw Fault(FieldMeaning.Currency, $"\"{Clip(code, 20)}\" is no ISO 4217 currency code.");
        }

        private Dictionary<string, string> Fields()
        {
            var fields = new Dictionary<string, string>();
            foreach (var (name, place) in map.Fields)
                if (Clip(read(place), EventFields.LongestValue) is { } value)
                    fields[name] = value;
            if (Text(FieldMeaning.Stars) is { } stars)
                fields[EventFields.Stars] = Stars(stars);
            if (Clip(read(map.PlaceOf(FieldMeaning.Words) ?? ""), EventFields.LongestWords) is { } words)
                fields[EventFields.Words] = words;
            Count(fields, FieldMeaning.Left, EventFields.Left);
            Count(fields, FieldMeaning.Total, EventFields.Total);
            return fields;
        }

        private string Stars(string written) =>
            ValueReading.Amount(written) is { } stars and <= 5
                ? stars.ToString("0.#", CultureInfo.InvariantCulture)
                : throw Fault(FieldMeaning.Stars, $"\"{Clip(written, 20)}\" is no number of stars from 0 to 5.");

        private void Count(Dictionary<string, string> fields, FieldMeaning meaning, string field)
        {
            if (Text(meaning) is { } written)
                fields[field] = ValueReading.Count(written) is { } count
                    ? count.ToString(CultureInfo.InvariantCulture)
                    : throw Fault(meaning, $"\"{Clip(written, 20)}\" is no whole number.");
        }

        private string? Address(FieldMeaning meaning) =>
            Text(meaning) is not { } text ? null
            : SafeLink.TryPassPicture(text) is { } address && address[0] != '/' ? address
            : throw Fault(meaning, $"The {EventMap.Named(meaning)} must be an http or https address.");

        private string? Text(FieldMeaning meaning) =>
            map.PlaceOf(meaning) is { } place ? Clip(read(place), SafeLink.MaxLength) : null;

        private RowFault Fault(FieldMeaning meaning, string sentence) =>
            new(new ArrivalFault(map.PlaceOf(meaning) ?? EventMap.Named(meaning), sentence));
    }

    private static string? Clip(string? text, int most)
    {
        return PlainText.OrNull(text) is { } plain ? PlainText.Clip(plain, most) : null;
    }

    private sealed class RowFault(ArrivalFault fault) : Exception(fault.Sentence)
    {
        public ArrivalFault Fault { get; } = fault;
    }
}
