using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using Narbit.Core.Records;
using Narbit.Data.Events;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Data.Proofs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Data.Telling;

namespace Narbit.Data;

/// <summary>Everything Narbit keeps, in one SQLite file.</summary>
public sealed class NarbitContext(DbContextOptions<NarbitContext> options) : DbContext(options)
{
    public DbSet<Workspace> Workspaces => Set<Workspace>();

    public DbSet<Colleague> Colleagues => Set<Colleague>();

    public DbSet<DescriptionVersion> DescriptionVersions => Set<DescriptionVersion>();

    public DbSet<MetServer> MetServers => Set<MetServer>();

    public DbSet<ConnectedSystem> Systems => Set<ConnectedSystem>();

    public DbSet<MirrorRecord> Records => Set<MirrorRecord>();

    public DbSet<MirrorParent> Parents => Set<MirrorParent>();

    public DbSet<ReservedKey> ReservedKeys => Set<ReservedKey>();

    public DbSet<MirrorRead> Reads => Set<MirrorRead>();

    public DbSet<MirrorReadPage> ReadPages => Set<MirrorReadPage>();

    public DbSet<Couple> Couples => Set<Couple>();

    public DbSet<PairLink> Links => Set<PairLink>();

    public DbSet<SetAside> SetAsides => Set<SetAside>();

    public DbSet<PairProposal> Proposals => Set<PairProposal>();

    public DbSet<PairDecision> Decisions => Set<PairDecision>();

    public DbSet<PairBatch> Batches => Set<PairBatch>();

    public DbSet<Lane> Lanes => Set<Lane>();

    public DbSet<Job> Jobs => Set<Job>();

    public DbSet<JobLane> JobLanes => Set<JobLane>();

    public DbSet<JobTurn> Turns => Set<JobTurn>();

    public DbSet<TurnStep> TurnSteps => Set<TurnStep>();

    public DbSet<DayOff> DaysOff => Set<DayOff>();

    public DbSet<RuleVersion> RuleVersions => Set<RuleVersion>();

    public DbSet<LaneDraft> Drafts => Set<LaneDraft>();

    public DbSet<Agreed> Agreed => Set<Agreed>();

    public DbSet<KeptOff> KeptOff => Set<KeptOff>();

    public DbSet<Counterpart> Counterparts => Set<Counterpart>();

    public DbSet<HookEvent> HookEvents => Set<HookEvent>();

    public DbSet<OrderDecision> OrderDecisions => Set<OrderDecision>();

    public DbSet<OrderStanding> OrderStandings => Set<OrderStanding>();

    public DbSet<OrderSku> OrderSkus => Set<OrderSku>();

    public DbSet<OrderGoods> OrderGoods => Set<OrderGoods>();

    public DbSet<StandingCause> StandingCauses => Set<StandingCause>();

    public DbSet<ValueChange> ValueChanges => Set<ValueChange>();

    public DbSet<Run> Runs => Set<Run>();

    public DbSet<PlannedWrite> Writes => Set<PlannedWrite>();

    public DbSet<PlannedField> WriteFields => Set<PlannedField>();

    public DbSet<WriteTry> Tries => Set<WriteTry>();

    public DbSet<RunTrouble> Troubles => Set<RunTrouble>();

    public DbSet<RunRemark> Remarks => Set<RunRemark>();

    public DbSet<Mismatch> Mismatches => Set<Mismatch>();

    public DbSet<MismatchAct> MismatchActs => Set<MismatchAct>();

    public DbSet<ActOn> ActsOn => Set<ActOn>();

    public DbSet<MailServer> MailServers => Set<MailServer>();

    public DbSet<Wish> Wishes => Set<Wish>();

    public DbSet<Told> Told => Set<Told>();

    public DbSet<Mail> Mails => Set<Mail>();

    public DbSet<MismatchDay> MismatchDays => Set<MismatchDay>();

    public DbSet<ProofRound> ProofRounds => Set<ProofRound>();

    public DbSet<LaneProof> Proofs => Set<LaneProof>();

    public DbSet<ProofLine> ProofLines => Set<ProofLine>();

    public DbSet<Listener> Listeners => Set<Listener>();

    public DbSet<Delivery> Deliveries => Set<Delivery>();

    /// <summary>SQLite's json_extract as a text, for queries.</summary>
    public static string? Json(string json, string path) => throw new NotSupportedException("For queries only.");

    /// <summary>SQLite's json_extract as a number, for queries.</summary>
    public static double? Number(string json, string path) => throw new NotSupportedException("For queries only.");

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        // SQLite has no instants; whole UTC ticks sort and compare as the instants do.
        configurationBuilder.Properties<DateTimeOffset>().HaveConversion<UtcTicks>();
        configurationBuilder.Properties<Enum>().HaveConversion<string>();
        configurationBuilder.Properties<RecordKind>().HaveConversion<KindCode>();
    }

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        modelBuilder.HasDbFunction(() => Json(default!, default!)).HasName("json_extract");
        modelBuilder
            .HasDbFunction(() => Number(default!, default!))
            .HasTranslation(args => new Microsoft.EntityFrameworkCore.Query.SqlExpressions.SqlUnaryExpression(
                System.Linq.Expressions.ExpressionType.Convert,
                new Microsoft.EntityFrameworkCore.Query.SqlExpressions.SqlFunctionExpression(
                    "json_extract",
                    args,
                    true,
                    [true, true],
                    typeof(string),
                    Microsoft.EntityFrameworkCore.Storage.StringTypeMapping.Default
                ),
                typeof(double),
                Microsoft.EntityFrameworkCore.Storage.DoubleTypeMapping.Default
            ));
        modelBuilder
            .Entity<Couple>()
            .HasQueryFilter(c => !Systems.IgnoreQueryFilters().Any(s => s.RemovedAt != null && (s.Id == c.HubId || s.Id == c.OtherId)));
        modelBuilder.ApplyConfigurationsFromAssembly(typeof(NarbitContext).Assembly);
    }

    private sealed class KindCode() : ValueConverter<RecordKind, string>(k => k.Code, code => RecordKind.Of(code));

    private sealed class UtcTicks() : ValueConverter<DateTimeOffset, long>(v => v.UtcTicks, v => new DateTimeOffset(v, TimeSpan.Zero));

    /// <summary>For the migrations tool only.</summary>
    public sealed class DesignTime : IDesignTimeDbContextFactory<NarbitContext>
    {
        public NarbitContext CreateDbContext(string[] args) =>
            new(new DbContextOptionsBuilder<NarbitContext>().UseSqlite("Data Source=:memory:").Options);
    }
}
