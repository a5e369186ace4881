using System.Globalization;
using NodaTime;
using NodaTime.Text;

namespace Outcry.Server.Ledger;

/// <summary>A place in the ledger, after which the next page begins: the last row's time and id.</summary>
internal sealed record EventCursor(Instant At, Guid Id)
{
    public override string ToString() => $"{InstantPattern.ExtendedIso.Format(At)}_{Id:N}";

    public static EventCursor? TryParse(string? text)
    {
        var parts = text?.Split('_');
        if (parts is not { Length: 2 } || !Guid.TryParseExact(parts[1], "N", out var id))
            return null;
        var at = InstantPattern.ExtendedIso.WithCulture(CultureInfo.InvariantCulture).Parse(parts[0]);
        return at.Success ? new EventCursor(at.Value, id) : null;
    }
}
