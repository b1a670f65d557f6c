using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations;

/// <summary>The records everything else is proved from: the database itself refuses to change or delete a row.</summary>
public partial class AppendOnly : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql(
            """
            CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
                RAISE EXCEPTION 'rows of % are never changed or deleted', TG_TABLE_NAME;
            END
            $$;
            CREATE TRIGGER movements_append_only BEFORE UPDATE OR DELETE ON movements
                FOR EACH ROW EXECUTE FUNCTION refuse_change();
            CREATE TRIGGER bench_entries_append_only BEFORE UPDATE OR DELETE ON bench_entries
                FOR EACH ROW EXECUTE FUNCTION refuse_change();
            CREATE TRIGGER service_map_revisions_append_only BEFORE UPDATE OR DELETE ON service_map_revisions
                FOR EACH ROW EXECUTE FUNCTION refuse_change();
            """
        );
    }

    protected override void Down(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql(
            """
            DROP TRIGGER movements_append_only ON movements;
            DROP TRIGGER bench_entries_append_only ON bench_entries;
            DROP TRIGGER service_map_revisions_append_only ON service_map_revisions;
            DROP FUNCTION refuse_change();
            """
        );
    }
}
