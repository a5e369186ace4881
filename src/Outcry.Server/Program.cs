using Outcry.Server.Accounts;
using Outcry.Server.Audience;
using Outcry.Server.Background;
using Outcry.Server.Callouts;
using Outcry.Server.Care;
using Outcry.Server.House;
using Outcry.Server.Install;
using Outcry.Server.Intake;
using Outcry.Server.Intake.Desk;
using Outcry.Server.Launchers;
using Outcry.Server.Leads;
using Outcry.Server.Ledger;
using Outcry.Server.Live;
using Outcry.Server.Mail;
using Outcry.Server.Moving;
using Outcry.Server.Pictures;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Rehearsals;
using Outcry.Server.Replays;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Server.Team;
using Outcry.Server.Visitor;

if (args is ["settings"])
{
    Console.Write(Settings.Document());
    return 0;
}
var builder = WebApplication.CreateBuilder(args);
builder.AddSettingsFile();
if (Settings.Faults(builder.Configuration) is { Count: > 0 } faults)
{
    Console.Error.WriteLine(string.Join(Environment.NewLine, faults));
    return 2;
}

builder.AddPlatform();
builder.AddAccounts();
builder.AddSites();
builder.AddCare();
builder.AddVisitor();
builder.AddIntake();
builder.AddLedger();
builder.AddInstall();
builder.AddMail();
builder.AddLive();
builder.AddAudience();
builder.AddPublishing();
builder.AddCallouts();
builder.AddLaunchers();
builder.AddTalks();
builder.AddLeads();
builder.AddReplays();
builder.AddPictures();
builder.AddMoving();
builder.AddTeam();
builder.AddBackground();

var app = builder.Build();
app.BeginModel();

await app.MigrateAsync();

app.UsePlatform();
app.MapHealth();
app.MapVisitor();
app.MapTalks();
app.MapAsks();
app.MapIntake();
app.MapPictureFiles();

var api = app.MapDeskApi();
api.MapAccounts();
api.MapTeam();
api.MapHouse();
api.MapMoving();
api.MapSites();
api.MapInstall();
api.MapSources();
api.MapCare();
api.MapLedger();
api.MapPublishing();
api.MapCallouts();
api.MapLaunchers();
api.MapInbox();
api.MapLeads();
api.MapReplays();
api.MapRehearsals();
api.MapPictures();
api.MapRunSheet();
api.MapAudience();

app.MapLive();
app.MapDesk();

app.BeginReadiness();
await app.RunAsync();
return Environment.ExitCode;

/// <summary>The host; named so that tests can start it.</summary>
public partial class Program;
