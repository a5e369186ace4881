using System.Globalization;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Sources;

/// <summary>What surrounds the data an event is read from.</summary>
/// <param name="FallbackId">The event's id where the data has none.</param>
/// <param name="Now">For events without a time, and to refuse those dated in the future.</param>
/// <param name="Zone">For times without an offset.</param>
public sealed record ReadingContext(string FallbackId, Instant Now, DateTimeZone Zone);

/// <summary>Reads an event from somebody else's data by a map.</summary>
public static class MapReader
{
    /// <summary>How far a sender's clock may run ahead of ours.</summary>
    public static Duration ClockTolerance { get; } = Duration.FromMinutes(5);

    /// <summary>The event, or what stands in its way.</summary>
    /// <param name="map">Where everything stands.</param>
    /// <param name="read">The text at a place; null or empty where there is none.</param>
    /// <param name="context">What surrounds the data.</param>
    public static (Arrival? Arrival, ArrivalFault? Fault) Read(
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
        public Arrival ToArrival()
        {
            foreach (var needed in EventMap.Needed(map.Kind))
                if (Text(needed) is null)
                    throw Fault(needed, $"The {EventMap.Named(needed)} is missing.");
            var amount = Amount();
            return new Arrival
            {
                ExternalId = Clip(Text(Meaning.Id), Arrival.LongestField) ?? context.FallbackId,
                Kind = map.Kind,
                At = Time(),
                FirstName = Text(Meaning.FirstName),
                LastName = Text(Meaning.LastName),
                Email = Text(Meaning.Email),
                Phone = Text(Meaning.Phone),
                City = Text(Meaning.City),
                Region = Text(Meaning.Region),
                Country = Text(Meaning.Country),
                VisitorId = Text(Meaning.Visitor),
                Page = Address(Meaning.Page),
                Product = Text(Meaning.Product) is { } product
                    ? new EventProduct(
                        product,
                        Address(Meaning.ProductAddress),
                        Address(Meaning.ProductPicture),
                        Text(Meaning.Category)
                    )
                    : null,
                Amount = amount,
                Currency = amount is null ? null : Code(),
                Fields = Fields(),
                IsTest = Text(Meaning.Test) is { } test && ValueReading.IsYes(test),
            };
        }

        private Instant Time()
        {
            if (Text(Meaning.Time) is not { } written)
                return context.Now;
            if (ValueReading.Time(written, context.Zone, map.Dates) is not { } at)
                throw map.Dates is null && WrittenDate.IsAmbiguous(written)
                    ? Fault(
                        Meaning.Time,
                        $"In \"{Clip(written, 40)}\" either number may be the day. Say whether dates are written day first or month first."
                    )
                    : Fault(Meaning.Time, $"\"{Clip(written, 40)}\" is no time. Write it as 2026-11-24T10:00:00Z.");
            return at <= context.Now + ClockTolerance
                ? at
                : throw Fault(Meaning.Time, "The time lies in the future; what is told must have happened.");
        }

        private decimal? Amount() =>
            Text(Meaning.Amount) is not { } written ? null
            : ValueReading.Amount(written) is { } amount ? amount
            : throw Fault(Meaning.Amount, $"\"{Clip(written, 40)}\" is no amount from 0 to 1,000,000,000.");

        private string Code()
        {
            var code =
                Text(Meaning.Currency)
                ?? Currency.OfSign(Text(Meaning.Amount) ?? "")
                ?? (map.Currency.Length > 0 ? map.Currency : null)
                ?? throw Fault(Meaning.Currency, "An amount needs its currency, as an ISO 4217 code such as GBP.");
            return Currency.IsKnown(code)
                ? code.ToUpperInvariant()
                : throw Fault(Meaning.Currency, $"\"{Clip(code, 20)}\" is no ISO 4217 currency code.");
        }

        private Dictionary<string, string> Fields()
        {
            var fields = new Dictionary<string, string>();
            foreach (var (name, place) in map.Fields)
                if (Clip(read(place), Arrival.LongestField) is { } value)
                    fields[name] = value;
            if (Text(Meaning.Stars) is { } stars)
                fields[EventFields.Stars] = Stars(stars);
            if (Clip(read(map.PlaceOf(Meaning.Words) ?? ""), Arrival.LongestWords) is { } words)
                fields[EventFields.Words] = words;
            Count(fields, Meaning.Left, EventFields.Left);
            Count(fields, Meaning.Total, EventFields.Total);
            return fields;
        }

        private string Stars(string written) =>
            ValueReading.Amount(written) is { } stars and <= 5
                ? stars.ToString("0.#", CultureInfo.InvariantCulture)
                : throw Fault(Meaning.Stars, $"\"{Clip(written, 20)}\" is no number of stars from 0 to 5.");

        private void Count(Dictionary<string, string> fields, Meaning meaning, string field)
        {
            if (Text(meaning) is { } written)
                fields[field] = ValueReading.Count(written) is { } count
                    ? count.ToString(CultureInfo.InvariantCulture)
                    : throw Fault(meaning, $"\"{Clip(written, 20)}\" is no whole number.");
        }

        private string? Address(Meaning meaning) =>
            Text(meaning) is not { } text ? null
            : SafeLink.TryPassPicture(text) is { } address && address[0] != '/' ? address
            : throw Fault(meaning, $"The {EventMap.Named(meaning)} must be an http or https address.");

        private string? Text(Meaning meaning) =>
            map.PlaceOf(meaning) is { } place ? Clip(read(place), SafeLink.MaxLength) : null;

        private RowFault Fault(Meaning meaning, string sentence) =>
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
