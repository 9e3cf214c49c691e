"""What instruments wrote over time: read from files, judged against the plan, watched for danger."""
