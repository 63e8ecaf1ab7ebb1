using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
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
        modelBuilder.Entity<Colleague>().HasKey(c => c.Name);
        modelBuilder.Entity<DescriptionVersion>().HasKey(v => new { v.SystemId, v.Number });
        modelBuilder.Entity<MetServer>().HasKey(s => s.Server);
        modelBuilder.Entity<ConnectedSystem>().Property(s => s.Revision).IsConcurrencyToken();

        // What was removed is passed over, but by history, which asks for it.
        modelBuilder.Entity<ConnectedSystem>().HasQueryFilter(s => s.RemovedAt == null);
        modelBuilder.Entity<Lane>().HasQueryFilter(l => l.RemovedAt == null);
        modelBuilder
            .Entity<Couple>()
            .HasQueryFilter(c => !Systems.IgnoreQueryFilters().Any(s => s.RemovedAt != null && (s.Id == c.HubId || s.Id == c.OtherId)));

        modelBuilder.Entity<MirrorRecord>(e =>
        {
            e.HasIndex(r => new
                {
                    r.SystemId,
                    r.Kind,
                    r.Key,
                })
                .IsUnique();
            e.HasIndex(r => r.AnonymisedAt).HasFilter("\"AnonymisedAt\" IS NOT NULL");
            // With what is gone, so that records are counted without being read.
            e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.Reference,
                r.GoneAt,
            });
            e.HasIndex(r => new
                {
                    r.SystemId,
                    r.Kind,
                    r.GoneAt,
                })
                .HasFilter("\"Problems\" IS NOT NULL AND \"GoneAt\" IS NULL");
            e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.Parent,
            });
            e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.Group,
            });
            e.HasIndex(r => new { r.SystemId, r.Kind }).HasFilter("\"MissedAt\" IS NOT NULL");
            // What is new of a system is found without its records being read.
            e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.ChangedAt,
            });
            // The search index is brought up to date by what has changed since.
            e.HasIndex(r => r.ChangedAt);
            e.HasIndex(r => r.GoneAt).HasFilter("\"GoneAt\" IS NOT NULL");
        });
        modelBuilder
            .Entity<MirrorParent>()
            .HasKey(p => new
            {
                p.SystemId,
                p.Kind,
                p.Key,
            });
        modelBuilder.Entity<ReservedKey>(e =>
        {
            e.HasIndex(k => k.At);
            e.HasKey(k => new
            {
                k.SystemId,
                k.Kind,
                k.Key,
            });
            e.HasIndex(k => k.IdempotencyKey).IsUnique();
        });
        modelBuilder
            .Entity<MirrorRead>()
            .HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.StartedAt,
            });
        modelBuilder.Entity<MirrorRead>().HasIndex(r => r.StartedAt);
        // One reading of a kind at a time.
        modelBuilder.Entity<MirrorRead>().HasIndex(r => new { r.SystemId, r.Kind }).HasFilter("\"State\" = 'Reading'").IsUnique();
        modelBuilder.Entity<MirrorReadPage>().HasKey(p => new { p.ReadId, p.Number });

        modelBuilder
            .Entity<Couple>()
            .HasIndex(c => new
            {
                c.HubId,
                c.OtherId,
                c.Kind,
            })
            .IsUnique();
        modelBuilder.Entity<PairLink>(e =>
        {
            e.HasIndex(l => new { l.CoupleId, l.HubKey });
            e.HasIndex(l => new
                {
                    l.CoupleId,
                    l.OtherKey,
                    l.HubKey,
                })
                .IsUnique();
            // A listing hangs on one item at most, whoever pairs; only a kit stands for several.
            e.HasIndex(l => new { l.CoupleId, l.OtherKey }).HasFilter("\"IsKit\" = 0").IsUnique();
        });
        modelBuilder.Entity<SetAside>(e =>
        {
            e.HasIndex(a => new { a.CoupleId, a.HubKey }).HasFilter("\"HubKey\" IS NOT NULL").IsUnique();
            e.HasIndex(a => new { a.CoupleId, a.OtherKey }).HasFilter("\"OtherKey\" IS NOT NULL").IsUnique();
        });
        modelBuilder.Entity<PairProposal>(e =>
        {
            e.HasIndex(p => new
            {
                p.CoupleId,
                p.Verdict,
                p.Reference,
            });
            e.HasIndex(p => new { p.CoupleId, p.HubKey });
            e.HasIndex(p => new { p.CoupleId, p.OtherKey });
        });
        modelBuilder.Entity<PairDecision>(e =>
        {
            e.HasIndex(d => new { d.CoupleId, d.State });
            e.HasIndex(d => d.BatchId);
            e.HasIndex(d => d.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
            e.HasIndex(d => d.At);
            e.HasIndex(d => new { d.CoupleId, d.ThrownAt }).HasFilter("\"ThrownAt\" IS NOT NULL");
            // Two people cannot decide the same record at the same time: the database says no.
            e.HasIndex(d => new { d.CoupleId, d.HubClaim }).HasFilter("\"State\" = 'Waiting' AND \"HubClaim\" IS NOT NULL").IsUnique();
            e.HasIndex(d => new { d.CoupleId, d.OtherClaim }).HasFilter("\"State\" = 'Waiting' AND \"OtherClaim\" IS NOT NULL").IsUnique();
        });
        modelBuilder.Entity<PairBatch>(e =>
        {
            e.HasIndex(b => b.CoupleId);
            e.HasIndex(b => b.At);
        });

        modelBuilder.Entity<RuleVersion>(e =>
        {
            e.HasKey(v => new { v.LaneId, v.Number });
            e.HasIndex(v => v.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
        });
        modelBuilder.Entity<LaneDraft>().HasKey(d => new { d.LaneId, d.Person });
        modelBuilder
            .Entity<Agreed>()
            .HasKey(a => new
            {
                a.SystemId,
                a.Kind,
                a.WithId,
                a.Key,
                a.WithKey,
                a.Field,
            });
        modelBuilder.Entity<HookEvent>(e =>
        {
            // The same event twice is one: the database says no.
            e.HasIndex(h => new { h.SystemId, h.EventId }).IsUnique();
            e.HasIndex(h => new { h.SystemId, h.ReadAt });
            e.HasIndex(h => h.ReceivedAt);
        });
        Orders(modelBuilder);
        Timetables(modelBuilder);
        Disagreements(modelBuilder);
        Proven(modelBuilder);
        modelBuilder.Entity<KeptOff>().HasKey(k => new { k.LaneId, k.SourceKey });
        modelBuilder.Entity<ValueChange>(e =>
        {
            e.HasIndex(v => new
            {
                v.SystemId,
                v.Kind,
                v.Key,
                v.Field,
            });
            e.HasIndex(v => v.At);
        });

        modelBuilder.Entity<Run>(e =>
        {
            e.HasIndex(r => r.StartedAt);
            e.HasIndex(r => new { r.LaneId, r.StartedAt });
            // One lane never runs twice at once: the database says no, whoever asks.
            e.HasIndex(r => r.LaneId).HasFilter("\"State\" = 'Working'").IsUnique();
            e.OwnsOne(r => r.Why);
        });
        modelBuilder.Entity<PlannedWrite>(e =>
        {
            // A page of a run is found, and all its counts are made, without its writes being read: there may be hundreds of thousands.
            e.HasIndex(w => w.RunId);
            e.HasIndex(w => new
            {
                w.RunId,
                w.State,
                w.Kind,
            });
            e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Guarded").HasFilter("\"Guards\" <> ''");
            e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Fated").HasFilter("\"Fate_Code\" IS NOT NULL");
            e.HasIndex(w => new { w.SentAt, w.State }).HasFilter("\"SentAt\" IS NOT NULL");
            e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_TakenBack").HasFilter("\"TakenBackIn\" IS NOT NULL");
            e.HasIndex(w => new { w.RunId, w.Reference });
            e.HasIndex(w => w.TargetKey);
            // A creation has the same key in every run of its lane until it is settled.
            e.HasIndex(w => w.IdempotencyKey);
            e.HasIndex(w => w.SourceKey).HasFilter("\"Act\" = 'Create'");
            // What nobody knows the fate of is found whatever else was ever written.
            e.HasIndex(w => w.RunId, "IX_Writes_Open").HasFilter("\"State\" IN ('Unknown', 'Sent')");
            e.HasMany(w => w.Fields).WithOne().HasForeignKey(f => f.WriteId);
            e.OwnsOne(w => w.Hold);
            e.OwnsOne(w => w.Fate);
        });
        modelBuilder.Entity<PlannedField>().HasKey(f => new { f.WriteId, f.Field });
        modelBuilder.Entity<WriteTry>(e =>
        {
            e.HasIndex(t => t.WriteId);
            e.OwnsOne(t => t.Why);
            e.Navigation(t => t.Why).IsRequired();
        });
        modelBuilder.Entity<RunTrouble>(e =>
        {
            e.HasIndex(t => t.RunId);
            e.OwnsOne(t => t.Why);
            e.Navigation(t => t.Why).IsRequired();
        });
        modelBuilder.Entity<RunRemark>(e =>
        {
            e.HasIndex(r => r.RunId);
            e.OwnsOne(r => r.Why);
            e.Navigation(r => r.Why).IsRequired();
        });
    }

    private static void Timetables(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<Job>(e =>
        {
            e.OwnsOne(j => j.Notice);
            e.HasQueryFilter(j => j.RemovedAt == null);
            e.HasMany(j => j.Lanes).WithOne().HasForeignKey(l => l.JobId);
        });
        // A lane is in one job: the database says no.
        modelBuilder.Entity<JobLane>(e =>
        {
            e.HasKey(l => l.LaneId);
            e.HasIndex(l => l.JobId);
        });
        modelBuilder.Entity<JobTurn>(e =>
        {
            e.HasIndex(t => new { t.JobId, t.DueAt });
            e.HasIndex(t => t.DueAt);
            e.HasIndex(t => t.JobId).HasFilter("\"State\" = 'Working'").IsUnique();
            e.HasIndex(t => t.JobId, "IX_Turns_Waiting").HasFilter("\"State\" = 'Waiting'").IsUnique();
            e.HasMany(t => t.Steps).WithOne().HasForeignKey(s => s.TurnId);
        });
        modelBuilder.Entity<TurnStep>(e =>
        {
            e.HasKey(s => new { s.TurnId, s.LaneId });
            e.HasIndex(s => s.RunId);
            e.OwnsOne(s => s.Why);
        });
        modelBuilder.Entity<DayOff>().HasKey(d => d.Date);
    }

    private static void Disagreements(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<Mismatch>(e =>
        {
            // One record and cause is one mismatch, whoever finds it: the database says no.
            e.HasIndex(m => new
                {
                    m.Cause,
                    m.SystemId,
                    m.Kind,
                    m.Key,
                    m.Scope,
                })
                .IsUnique();
            e.HasIndex(m => new { m.Origin, m.State });
            // What is new, and what is over, since somebody was here: counted from an index.
            e.HasIndex(m => new { m.State, m.FirstSeenAt });
            e.HasIndex(m => new { m.State, m.EndedAt });
            e.HasIndex(m => m.EndedAt).HasFilter("\"EndedAt\" IS NOT NULL");
            // What is new since somebody was told.
            e.HasIndex(m => new { m.OpenedAt, m.State });
            e.HasIndex(m => new { m.State, m.Until }).HasFilter("\"State\" = 'PutOff'");
            e.HasIndex(m => new { m.ActId }).HasFilter("\"ActId\" IS NOT NULL");
            e.HasIndex(m => new
            {
                m.LaneId,
                m.State,
                m.Cause,
                m.Key,
            });
            // A page of a cause, the oldest first.
            e.HasIndex(m => new
            {
                m.State,
                m.Cause,
                m.Since,
            });
            // All that is counted of a cause, in the order in which it is, so that half a million are counted without being read.
            e.HasIndex(m => new
            {
                m.State,
                m.Cause,
                m.SystemId,
                m.Currency,
                m.Worth,
                m.Pieces,
                m.Since,
                m.OtherSystemId,
                m.Kind,
                m.Owner,
            });
        });
        modelBuilder.Entity<ActOn>(e =>
        {
            e.HasKey(a => new { a.ActId, a.MismatchId });
            e.HasIndex(a => a.MismatchId);
        });
        modelBuilder
            .Entity<Wish>()
            .HasKey(w => new
            {
                w.Person,
                w.Harm,
                w.Cause,
            });
        modelBuilder.Entity<Delivery>(e =>
        {
            e.HasIndex(d => d.NextAt).HasFilter("\"NextAt\" IS NOT NULL");
            e.HasIndex(d => d.ListenerId);
            e.HasIndex(d => d.MadeAt);
        });
        modelBuilder.Entity<Told>().HasKey(t => t.Person);
        modelBuilder.Entity<Mail>(e =>
        {
            e.HasIndex(m => m.NextAt).HasFilter("\"NextAt\" IS NOT NULL");
            e.HasIndex(m => m.MadeAt);
            e.HasIndex(m => m.Person);
        });
        modelBuilder.Entity<MismatchAct>(e =>
        {
            e.HasIndex(a => a.Learned).HasFilter("\"Learned\" = 1");
            e.HasIndex(a => a.At);
            e.HasIndex(a => a.By);
        });
        modelBuilder.Entity<MismatchDay>(e =>
        {
            e.HasKey(d => new { d.Day, d.Cause });
            e.HasIndex(d => d.Cause);
        });
    }

    private static void Proven(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<LaneProof>(e =>
        {
            e.OwnsOne(p => p.Why);
            e.HasIndex(p => new { p.LaneId, p.Day });
            e.HasIndex(p => p.RoundId);
        });
        modelBuilder.Entity<ProofRound>(e =>
        {
            e.HasIndex(r => r.StartedAt);
            e.HasIndex(r => r.Day);
        });
        modelBuilder.Entity<ProofLine>().HasIndex(l => new { l.ProofId, l.Finding });
    }

    private static void Orders(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<Counterpart>(e =>
        {
            e.HasIndex(c => new
                {
                    c.Kind,
                    c.SourceId,
                    c.SourceKey,
                    c.TargetId,
                })
                .IsUnique();
            e.HasIndex(c => new
            {
                c.Kind,
                c.TargetId,
                c.TargetKey,
            });
        });
        modelBuilder.Entity<OrderDecision>(e =>
        {
            e.HasIndex(d => new { d.LaneId, d.OrderKey });
            e.HasIndex(d => d.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
            e.HasIndex(d => d.At);
        });
        modelBuilder.Entity<OrderStanding>(e =>
        {
            e.HasIndex(o => new { o.LaneId, o.SourceKey }).IsUnique();
            e.HasIndex(o => new { o.Stage, o.PlacedAt });
            e.HasIndex(o => o.PlacedAt);
            // All that the numbers above the list are made of, so that they are counted without the orders being read.
            e.HasIndex(o => new
            {
                o.Stage,
                o.Currency,
                o.Total,
                o.Refunded,
                o.UsesDefaultItem,
            });
            e.HasIndex(o => o.Number);
            // Amounts sort and compare as numbers; they are shown, not reckoned with.
            e.Property(o => o.Total).HasConversion<double>();
            e.Property(o => o.Refunded).HasConversion<double>();
        });
    }

    private sealed class UtcTicks() : ValueConverter<DateTimeOffset, long>(v => v.UtcTicks, v => new DateTimeOffset(v, TimeSpan.Zero));

    /// <summary>For the migrations tool only.</summary>
    public sealed class DesignTime : IDesignTimeDbContextFactory<NarbitContext>
    {
        public NarbitContext CreateDbContext(string[] args) =>
            new(new DbContextOptionsBuilder<NarbitContext>().UseSqlite("Data Source=:memory:").Options);
    }
}
