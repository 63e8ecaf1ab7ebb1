using System.Globalization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.FileProviders;
using Narbit.Adapters;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.Events;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Pairing;
using Narbit.Engine.People;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Searching;
using Narbit.Engine.Systems;
using Narbit.Engine.Workspaces;
using Narbit.Web.Api;
using Narbit.Web.Events;
using Narbit.Web.Items;
using Narbit.Web.Lanes;
using Narbit.Web.Live;
using Narbit.Web.Orders;
using Narbit.Web.Pairing;
using Narbit.Web.Persons;
using Narbit.Web.Runs;
using Narbit.Web.Search;
using Narbit.Web.Setup;
using Narbit.Web.Systems;
using Narbit.Web.Timetable;
using Narbit.Web.Today;
using Quartz;

[assembly: System.Runtime.Versioning.SupportedOSPlatform("linux")]

// --data DIR, --files DIR (systems that are reached by files have their folders in it), --sandbox URL (sets the demo workspace up),
// --web DIR (the built front end), --loopback yes (systems on this machine may be called), --urls URL,
// --host NAME[,NAME] (names to be served as, besides this machine's own);
// --describe FILE writes the OpenAPI document and ends, without touching any data.
// Messages read the same whatever the machine's language is; the front end speaks to people in their own.
CultureInfo.CurrentCulture = CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;

// SQLite answers on the thread that asks; a few that wait for its lock must not keep others from being served.
ThreadPool.SetMinThreads(24, 24);

// Only what was asked for: a variable of the machine's that happens to be called HOST or DATA means something else.
var options = new ConfigurationBuilder().AddCommandLine(args).Build();
var describe = options["describe"];
var describing = describe is not null;
var taken = describing ? default : DataFolder.Take(Path.GetFullPath(options["data"] ?? "data"));
if (taken.Fault is { } inUse)
{
    await Console.Error.WriteLineAsync($"narbit: {inUse.Words}");
    return 3;
}

using var folder = taken.ValueOrDefault;
var builder = WebApplication.CreateBuilder(args);
builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Warning);
builder.Logging.AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Warning);
builder.Logging.AddFilter("Quartz", LogLevel.Warning);
builder.Logging.AddFilter("System.Net.Http", LogLevel.Warning);
builder.Services.ConfigureHttpJsonOptions(o =>
{
    o.SerializerOptions.UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow;
    o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict;
    o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
    o.SerializerOptions.TypeInfoResolverChain.Insert(0, LaneJson.Resolver);
});
builder.Services.AddProblemDetails();
builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
builder.Services.AddOpenApi(
    ApiDocument.Name,
    o =>
        o.AddSchemaTransformer(ApiDocument.AmountsMayBeText)
            .AddSchemaTransformer(ApiDocument.OrdersAsWritten)
            .AddDocumentTransformer(ApiDocument.AnswersAreWhole)
);
builder.Services.AddSignalR();
var protection = builder.Services.AddDataProtection().SetApplicationName("Narbit");
if (folder is not null)
    protection.PersistKeysToFileSystem(folder.Keys);

builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(new Database(folder?.Database ?? "none"));
builder.Services.AddSingleton(
    new OutboundPolicy(
        AllowLoopback: (options["sandbox"] ?? options["loopback"]) is not null,
        Files: options["files"] is { } files ? Path.GetFullPath(files) : null
    )
);
builder.Services.AddSingleton<ICredentialVault, Vault>();
builder.Services.AddSingleton<AdapterSource>();
builder.Services.AddSingleton<LiveFeed>();
builder.Services.AddSingleton<MirrorReader>();
builder.Services.AddSingleton<LaneTrial>();
builder.Services.AddSingleton<MapLook>();
builder.Services.AddSingleton<AdapterFields>();
builder.Services.AddSingleton<RunEngine>();
builder.Services.AddSingleton<RunDesk>();
builder.Services.AddSingleton<DecisionDesk>();
builder.Services.AddSingleton<PairDesk>();
builder.Services.AddSingleton<StockTaking>();
builder.Services.AddSingleton<PairTableImport>();
builder.Services.AddSingleton<ItemOverview>();
builder.Services.AddSingleton<OrderDesk>();
builder.Services.AddSingleton<WorkspaceDesk>();
builder.Services.AddSingleton<DefaultItemDesk>();
builder.Services.AddSingleton<HookDesk>();
builder.Services.AddSingleton<PersonDesk>();
builder.Services.AddSingleton<Exposures>();
builder.Services.AddSingleton<ExposureWatch>();
builder.Services.AddSingleton<SearchIndex>();
builder.Services.AddSingleton<RecordSearch>();
builder.Services.AddSingleton<LaneTimetable>();
builder.Services.AddSingleton<DemoWorkspace>();
if (!describing)
{
    builder.Services.AddHostedService<LiveBroadcast>();
    builder.Services.AddHostedService(services => services.GetRequiredService<ExposureWatch>());
    builder.Services.AddHostedService<SearchKeeper>();
    builder.Services.AddHostedService<HookWorker>();
    builder.Services.AddHostedService<AnonymityKeeper>();
    builder.Services.AddQuartz(q => q.AddJob<LaneJob>(j => j.WithIdentity(LaneJob.Key).StoreDurably()));
    builder.Services.AddQuartzHostedService();
}

var app = builder.Build();
var hosts = (options["host"] ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
app.UseBorder(hosts, LiveHub.Path);
app.UseExceptionHandler(new ExceptionHandlerOptions { ExceptionHandler = Problems.HandleAsync, StatusCodeSelector = _ => 500 });
if (options["web"] is { } web && Directory.Exists(web))
{
    var pages = new PhysicalFileProvider(Path.GetFullPath(web));
    app.UseDefaultFiles(new DefaultFilesOptions { FileProvider = pages });
    app.UseStaticFiles(
        new StaticFileOptions
        {
            FileProvider = pages,
            OnPrepareResponse = c =>
                c.Context.Response.Headers.CacheControl = c.Context.Request.Path.StartsWithSegments("/assets")
                    ? "public, max-age=31536000, immutable"
                    : "no-cache",
        }
    );
    app.MapFallbackToFile("{*path:nonfile}", "index.html", new StaticFileOptions { FileProvider = pages });
}

var api = app.MapGroup("/api").ProducesProblem(400).ProducesProblem(404).ProducesProblem(409).ProducesProblem(422);
TodayApi.Map(api);
SystemsApi.Map(api);
ProposalsApi.Map(api);
HooksApi.Map(api);
PeopleApi.Map(api);
HooksApi.MapDoor(app);
RecordsApi.Map(api);
FieldsApi.Map(api);
LanesApi.Map(api);
RulesApi.Map(api);
DraftsApi.Map(api);
RunsApi.Map(api);
WrittenApi.Map(api);
CouplesApi.Map(api);
DeskApi.Map(api);
ReadinessApi.Map(api);
ItemsApi.Map(api);
MapApi.Map(api);
SyncedApi.Map(api);
ExposureApi.Map(api);
HistoryApi.Map(api);
SearchApi.Map(api);
WorkspaceApi.Map(api);
OrdersApi.Map(api);
OrderApi.Map(api);
DefaultItemsApi.Map(api);
api.MapFallback(() => Problems.NotFound("There is nothing at this address of the API.")).ExcludeFromDescription();
app.MapHub<LiveHub>(LiveHub.Path);
app.MapOpenApi("/openapi/{documentName}.json");

if (describe is not null)
{
    await ApiDocument.WriteAsync(app, describe);
    return 0;
}

await app.Services.GetRequiredService<Database>().MigrateAsync();

// Before anything new is started, what a killed process left behind is picked up.
await app.Services.GetRequiredService<RunEngine>().ResumeAsync(CancellationToken.None);
if (options["sandbox"] is { } sandbox)
    await app.Services.GetRequiredService<DemoWorkspace>().PrepareAsync(sandbox.TrimEnd('/'), CancellationToken.None);
app.Lifetime.ApplicationStarted.Register(() => _ = app.Services.GetRequiredService<LaneTimetable>().ArmAllAsync(CancellationToken.None));

await app.RunAsync();
return 0;
