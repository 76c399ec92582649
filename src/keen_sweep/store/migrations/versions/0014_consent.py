"""A consent to a price is called so, with the payments under it and in the requests of runs."""

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_index("ix_payment_yes", "payment")
    op.execute("ALTER TABLE payment RENAME COLUMN yes TO consent")
    op.create_index("ix_payment_consent", "payment", ["consent"])
    op.execute(
        "UPDATE run SET request = json_remove(json_set(request, '$.consent', json_extract(request, '$.yes')), '$.yes') "
        "WHERE json_type(request, '$.yes') IS NOT NULL"
    )
