from django.urls import path

from ridgeback.feeding import views

app_name = "feeding"
urlpatterns = [
    path("animals/<int:pk>/feeding/", views.page, name="page"),
    path("animals/<int:pk>/feeding/meal/", views.log, name="log"),
    path("animals/<int:pk>/feeding/condition/", views.score, name="score"),
    path("animals/<int:pk>/feeding/condition-period/", views.begin, name="begin"),
    path("animals/<int:pk>/feeding/condition-period/end/", views.end, name="end"),
]
