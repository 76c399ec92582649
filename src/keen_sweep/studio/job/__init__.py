"""A job: a whole shoot from a folder of pictures to a folder of deliveries, as a file says, without anybody there."""
