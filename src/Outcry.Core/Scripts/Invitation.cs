using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using NodaTime;

namespace Outcry.Core.Scripts;

/// <summary>A time that was booked, as an invitation.</summary>
/// <param name="Id">The same for as long as it is the same appointment.</param>
/// <param name="Title">What it is.</param>
/// <param name="StartsAt">When it begins.</param>
/// <param name="Minutes">How long it takes.</param>
/// <param name="Organizer">Address of whoever invites.</param>
/// <param name="OrganizerName">Their name.</param>
/// <param name="Guest">Address of whoever is invited.</param>
/// <param name="Page">Address of the page on which it was booked; empty for none.</param>
public sealed record Invitation(
    Guid Id,
    string Title,
    Instant StartsAt,
    int Minutes,
    string Organizer,
    string OrganizerName,
    string Guest,
    string Page
)
{
    /// <summary>Writes it as iCalendar (RFC 5545), to be sent by the rules of RFC 5546: an invitation, or the same called off.</summary>
    /// <param name="now">When it is written.</param>
    /// <param name="isCancelled">Whether it was called off.</param>
    public string Write(Instant now, bool isCancelled)
    {
        var invited = new CalendarEvent
        {
            Uid = $"{Id:N}@outcry",
            DtStamp = At(now),
            Start = At(StartsAt),
            End = At(StartsAt + NodaTime.Duration.FromMinutes(Minutes)),
            Summary = Title,
            Sequence = isCancelled ? 1 : 0,
            Status = isCancelled ? EventStatus.Cancelled : EventStatus.Confirmed,
            Organizer = new Organizer($"mailto:{Organizer}") { CommonName = OrganizerName },
        };
        invited.Attendees.Add(
            new Attendee($"mailto:{Guest}")
            {
                Rsvp = !isCancelled,
                ParticipationStatus = EventParticipationStatus.NeedsAction,
            }
        );
        if (Uri.TryCreate(Page, UriKind.Absolute, out var page))
            invited.Url = page;
        var calendar = new Calendar
        {
            Method = isCancelled ? CalendarMethods.Cancel : CalendarMethods.Request,
            ProductId = "-//Outcry//Outcry//EN",
        };
        calendar.Events.Add(invited);
        return new CalendarSerializer().SerializeToString(calendar) ?? "";
    }

    private static CalDateTime At(Instant at) => new(at.ToDateTimeUtc(), "UTC");
}
