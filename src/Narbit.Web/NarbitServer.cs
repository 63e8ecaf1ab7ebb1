using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.FileProviders;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.Events;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Pairing;
using Narbit.Engine.People;
using Narbit.Engine.Proofs;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Searching;
using Narbit.Engine.Systems;
using Narbit.Engine.Telling;
using Narbit.Engine.Workspaces;
using Narbit.Web.Api;
using Narbit.Web.Corrections;
using Narbit.Web.Events;
using Narbit.Web.Items;
using Narbit.Web.Lanes;
using Narbit.Web.Live;
using Narbit.Web.Mismatches;
using Narbit.Web.Orders;
using Narbit.Web.Pairing;
using Narbit.Web.Persons;
using Narbit.Web.Proofs;
using Narbit.Web.Runs;
using Narbit.Web.Search;
using Narbit.Web.Setup;
using Narbit.Web.Systems;
using Narbit.Web.Telling;
using Narbit.Web.Timetable;
using Narbit.Web.Today;

namespace Narbit.Web;

/// <summary>Narbit as it serves: everything it keeps in one folder, its API, its pages, and what it does by itself.</summary>
public sealed class NarbitServer : IAsyncDisposable
{
    private readonly WebApplication _app;
    private readonly DataFolder _folder;

    private NarbitServer(WebApplication app, DataFolder folder)
    {
        (_app, _folder) = (app, folder);
    }

    /// <summary>Starts it; what a killed process left behind is picked up before anything new is begun.</summary>
    /// <param name="args">As on the command line.</param>
    /// <param name="log">Where it says what happens, besides the console.</param>
    /// <returns>It, or why its folder cannot be used.</returns>
    public static async Task<Outcome<NarbitServer>> StartAsync(string[] args, Action<ILoggingBuilder>? log = null)
    {
        var options = Options(args);
        var folder = DataFolder.Take(Path.GetFullPath(options["data"] ?? "data"));
        if (folder.Fault is { } inUse)
            return inUse;
        var builder = Builder(args, options, folder.Value);
        AddWorkers(builder.Services);
        log?.Invoke(builder.Logging);
        var app = builder.Build();
        var server = new NarbitServer(app, folder.Value);
        Map(app, options);
        var start = app.Services.GetRequiredService<ILogger<NarbitServer>>();
        await app.Services.GetRequiredService<Database>().UpgradeAsync(folder.Value.Copies, step => start.LogInformation("{Step}", step));
        await IntervalMove.MoveAsync(
            app.Services.GetRequiredService<Database>(),
            app.Services.GetRequiredService<TimeProvider>().GetUtcNow(),
            CancellationToken.None
        );
        await app.Services.GetRequiredService<RunEngine>().ResumeAsync(CancellationToken.None);
        if (options["sandbox"] is { } sandbox)
            await app.Services.GetRequiredService<DemoWorkspace>().PrepareAsync(sandbox.TrimEnd('/'), CancellationToken.None);
        await app.StartAsync();
        return server;
    }

    /// <summary>Writes the OpenAPI document, without touching any data.</summary>
    public static async Task DescribeAsync(string[] args, string file)
    {
        var options = Options(args);
        var app = Builder(args, options, null).Build();
        Map(app, options);
        await ApiDocument.WriteAsync(app, file);
    }

    /// <summary>Waits until somebody ends the process.</summary>
    public Task EndedAsync() => _app.WaitForShutdownAsync();

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await _app.DisposeAsync();
        _folder.Dispose();
    }

    // Only what was asked for: a variable of the machine's that happens to be called HOST or DATA means something else.
    private static IConfigurationRoot Options(string[] args) => new ConfigurationBuilder().AddCommandLine(args).Build();

    private static WebApplicationBuilder Builder(string[] args, IConfigurationRoot options, DataFolder? folder)
    {
        // Settings come by the command line alone: no folder is watched for changes of files, with all that lies below it.
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                Args = [.. args, "--hostBuilder:reloadConfigOnChange=false"],
                ContentRootPath = AppContext.BaseDirectory,
            }
        );
        Speak(builder);
        var protection = builder.Services.AddDataProtection().SetApplicationName("Narbit");
        if (folder is not null)
            protection.PersistKeysToFileSystem(folder.Keys);

        builder.Services.AddSingleton(TimeProvider.System);
        builder.Services.AddSingleton(new Database(folder?.Database ?? "none"));
        builder.Services.AddSingleton(services => new OutboundPolicy(
            AllowLoopback: (options["sandbox"] ?? options["loopback"]) is not null,
            Files: options["files"] is { } files ? Path.GetFullPath(files) : null
        )
        {
            HostKeys = services.GetRequiredService<KeptHostKeys>(),
        });
        builder.Services.AddSingleton<ICredentialVault, Vault>();
        builder.Services.AddSingleton<LiveFeed>();
        builder
            .Services.AddSystems()
            .AddReading()
            .AddPairing()
            .AddLanes()
            .AddRuns()
            .AddJobs()
            .AddMismatches()
            .AddTelling()
            .AddWorkspaces()
            .AddSearching()
            .AddProofs()
            .AddEvents()
            .AddPeople();
        builder.Services.AddSingleton<AdapterFields>();
        builder.Services.AddSingleton<ExposureWatch>();
        builder.Services.AddSingleton<DemoWorkspace>();
        return builder;
    }

    // What is logged, and how the API is spoken.
    private static void Speak(WebApplicationBuilder builder)
    {
        builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Warning);
        builder.Logging.AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Warning);
        builder.Logging.AddFilter("System.Net.Http", LogLevel.Warning);
        builder.Services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow;
            o.SerializerOptions.AllowDuplicateProperties = false;
            o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict;
            o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
            o.SerializerOptions.TypeInfoResolverChain.Insert(0, LaneJson.Resolver);
        });
        builder.Services.AddProblemDetails();
        builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        builder.Services.AddOpenApi(
            ApiDocument.Name,
            o =>
            {
                var usual = o.CreateSchemaReferenceId;
                o.CreateSchemaReferenceId = type => type.Type == typeof(RecordKind) ? nameof(RecordKind) : usual(type);
                o.AddSchemaTransformer(ApiDocument.AmountsMayBeText)
                    .AddSchemaTransformer(ApiDocument.OrdersAsWritten)
                    .AddSchemaTransformer(ApiDocument.KindsAsWords)
                    .AddDocumentTransformer(ApiDocument.AnswersAreWhole);
            }
        );
        builder.Services.AddSignalR();
    }

    private static void AddWorkers(IServiceCollection services)
    {
        services.AddHostedService<LiveBroadcast>();
        services.AddHostedService(s => s.GetRequiredService<ExposureWatch>());
        services.AddHostedService<SearchKeeper>();
        services.AddHostedService<MismatchKeeper>();
        services.AddHostedService<TellWorker>();
        services.AddHostedService<ProofWorker>();
        services.AddHostedService<HookWorker>();
        services.AddHostedService<AnonymityKeeper>();
        services.AddHostedService<StatisticsKeeper>();
        services.AddHostedService<JobWorker>();
    }

    private static void MapPages(WebApplication app, PhysicalFileProvider pages)
    {
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

    private static void Map(WebApplication app, IConfigurationRoot options)
    {
        var hosts = (options["host"] ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        app.UseBorder(hosts, LiveHub.Path);
        app.UseExceptionHandler(new ExceptionHandlerOptions { ExceptionHandler = Problems.HandleAsync, StatusCodeSelector = _ => 500 });
        app.UseUploads();
        app.UseFinishing();
        if (options["web"] is { } web && Directory.Exists(web))
            MapPages(app, new PhysicalFileProvider(Path.GetFullPath(web)));
        var api = app.MapGroup("/api").ProducesProblem(400).ProducesProblem(404).ProducesProblem(409).ProducesProblem(422);
        TodayApi.Map(api);
        SystemsApi.Map(api);
        ProposalsApi.Map(api);
        GrantsApi.Map(api);
        DescriptionsApi.Map(api);
        FilesApi.Map(api);
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
        CorrectionsApi.Map(api);
        ItemsApi.Map(api);
        MapApi.Map(api);
        SyncedApi.Map(api);
        ExposureApi.Map(api);
        MismatchesApi.Map(api);
        TellingApi.Map(api);
        ListenersApi.Map(api);
        FeedApi.Map(app);
        ProofsApi.Map(api);
        HistoryApi.Map(api);
        SearchApi.Map(api);
        JobsApi.Map(api);
        TimetableApi.Map(api);
        CalendarApi.Map(app);
        WorkspaceApi.Map(api);
        WorkspaceFilesApi.Map(api);
        RemovalApi.Map(api);
        OrdersApi.Map(api);
        OrderApi.Map(api);
        DefaultItemsApi.Map(api);
        api.MapFallback(() => Problems.NotFound("There is nothing at this address of the API.")).ExcludeFromDescription();
        app.MapHub<LiveHub>(LiveHub.Path);
        app.MapOpenApi("/openapi/{documentName}.json");
    }
}
