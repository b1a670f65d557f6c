using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class LargeFleets : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<Guid>(
                name: "repair_id",
                table: "erasures",
                type: "uuid",
                nullable: true,
                oldClrType: typeof(Guid),
                oldType: "uuid"
            );

            migrationBuilder.DropForeignKey(name: "fk_items_bins_bin_id", table: "items");

            migrationBuilder.DropIndex(name: "ix_units_serial_trigrams", table: "units");

            migrationBuilder.DropIndex(name: "ix_units_tag_trigrams", table: "units");

            migrationBuilder.DropIndex(name: "ix_items_bin_id", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_code_trigrams", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_in_bins", table: "items");

            migrationBuilder.AddColumn<string>(
                name: "bin_kind",
                table: "items",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true
            );

            migrationBuilder.Sql("UPDATE items SET bin_kind = b.kind FROM bins b WHERE b.id = items.bin_id");

            migrationBuilder.AddUniqueConstraint(
                name: "ak_bins_id_kind",
                table: "bins",
                columns: new[] { "id", "kind" }
            );

            migrationBuilder.CreateTable(
                name: "fit_tallies",
                columns: table => new
                {
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    number_id = table.Column<Guid>(type: "uuid", nullable: false),
                    fitted = table.Column<int>(type: "integer", nullable: false),
                    failed = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_fit_tallies", x => new { x.number_id, x.model_code });
                    table.CheckConstraint("ck_fit_tallies_counts", "fitted >= 0 AND failed >= 0");
                    table.ForeignKey(
                        name: "fk_fit_tallies_catalogue_numbers_number_id",
                        column: x => x.number_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                    table.ForeignKey(
                        name: "fk_fit_tallies_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_loan_pool",
                table: "units",
                column: "tag",
                filter: "in_loan_pool"
            );

            migrationBuilder.CreateIndex(
                name: "ix_items_bin_id_bin_kind_code",
                table: "items",
                columns: new[] { "bin_id", "bin_kind", "code" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_items_in_house",
                table: "items",
                columns: new[] { "number_id", "bin_kind", "bin_id" },
                filter: "bin_kind <> 'Outside'"
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_items_place_kind",
                table: "items",
                sql: "(bin_id IS NULL) = (bin_kind IS NULL)"
            );

            migrationBuilder.CreateIndex(
                name: "ix_bench_sessions_model_code_started_at",
                table: "bench_sessions",
                columns: new[] { "model_code", "started_at" }
            );

            migrationBuilder.CreateIndex(name: "ix_fit_tallies_model_code", table: "fit_tallies", column: "model_code");

            migrationBuilder.AddForeignKey(
                name: "fk_items_bins_bin_id_bin_kind",
                table: "items",
                columns: new[] { "bin_id", "bin_kind" },
                principalTable: "bins",
                principalColumns: new[] { "id", "kind" },
                onDelete: ReferentialAction.Restrict
            );

            migrationBuilder.Sql(
                """
                INSERT INTO fit_tallies (number_id, model_code, fitted, failed)
                SELECT i.number_id, u.model_code,
                       count(*) FILTER (WHERE m.reason = 'Fitted'), count(*) FILTER (WHERE m.reason = 'Removed')
                FROM movements m
                JOIN items i ON i.id = m.item_id
                JOIN units u ON u.id = coalesce(m.to_unit_id, m.from_unit_id)
                WHERE m.reason = 'Fitted'
                   OR (m.reason = 'Removed' AND EXISTS (
                       SELECT FROM movements f
                       WHERE f.item_id = m.item_id AND f.id < m.id AND f.reason = 'Fitted'
                         AND f.to_unit_id = m.from_unit_id AND f.at > m.at - INTERVAL '60 days'))
                GROUP BY i.number_id, u.model_code;
                -- On an expression, or plain equality would be looked up in these instead of in the unique indexes.
                CREATE INDEX ix_units_tag_trigrams ON units USING gist ((tag || '') gist_trgm_ops);
                CREATE INDEX ix_units_serial_trigrams ON units USING gist ((serial || '') gist_trgm_ops);
                CREATE INDEX ix_items_code_trigrams ON items USING gist ((code || '') gist_trgm_ops);
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<Guid>(
                name: "repair_id",
                table: "erasures",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"),
                oldClrType: typeof(Guid),
                oldType: "uuid",
                oldNullable: true
            );

            migrationBuilder.Sql("DROP INDEX ix_units_tag_trigrams, ix_units_serial_trigrams, ix_items_code_trigrams");

            migrationBuilder.DropForeignKey(name: "fk_items_bins_bin_id_bin_kind", table: "items");

            migrationBuilder.DropTable(name: "fit_tallies");

            migrationBuilder.DropIndex(name: "ix_units_loan_pool", table: "units");

            migrationBuilder.DropIndex(name: "ix_items_bin_id_bin_kind_code", table: "items");

            migrationBuilder.DropIndex(name: "ix_items_in_house", table: "items");

            migrationBuilder.DropCheckConstraint(name: "ck_items_place_kind", table: "items");

            migrationBuilder.DropUniqueConstraint(name: "ak_bins_id_kind", table: "bins");

            migrationBuilder.DropIndex(name: "ix_bench_sessions_model_code_started_at", table: "bench_sessions");

            migrationBuilder.DropColumn(name: "bin_kind", table: "items");

            migrationBuilder
                .CreateIndex(name: "ix_units_serial_trigrams", table: "units", column: "serial")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder
                .CreateIndex(name: "ix_units_tag_trigrams", table: "units", column: "tag")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_items_bin_id", table: "items", column: "bin_id");

            migrationBuilder
                .CreateIndex(name: "ix_items_code_trigrams", table: "items", column: "code")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(
                name: "ix_items_in_bins",
                table: "items",
                columns: new[] { "number_id", "bin_id" },
                filter: "bin_id IS NOT NULL"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_items_bins_bin_id",
                table: "items",
                column: "bin_id",
                principalTable: "bins",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );
        }
    }
}
